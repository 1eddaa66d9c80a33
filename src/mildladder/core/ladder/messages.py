"""Names in braces: what texts wait for, and the parts of a message that change, found in what a caller says.

Finding takes time in proportion to what was said, whatever the message: the fixed words are looked for one after the
other, and of the ways to fit them the one with the shortest parts is kept for each place, never all ways.
"""

import re
from collections import deque
from collections.abc import Iterable, Iterator, Sequence
from functools import lru_cache
from typing import NamedTuple

__all__ = ["NAME", "caught", "names_in"]

NAME = re.compile(r"\{((?:not )?[a-z0-9-]+)\}")
_LONGEST_PART = 40
_CLAUSES = re.compile(r"[\n\r]+|[.,;:!?](?=\s|$)|[\"“”„«»()]")
_AFTER_A_WORD = ".,;:!?)\"'”’"


def names_in(text: str) -> list[str]:
    """The names in braces that the text waits for, in order."""
    return [match.removeprefix("not ") for match in NAME.findall(text)]


@lru_cache(maxsize=4096)
def caught(message: str, said: str) -> dict[str, str] | None:
    """The parts of a message as they stand in what was said; None when the message does not.

    A part has at most 40 characters, the fewest with which the fixed words around it fit; at either end of a message it
    is one word, or several where they stand in capitals and nothing else is said. Fixed words in the case that is
    written are preferred to others, whole words are required. Blanks of any kind count as one. A message that begins or
    ends with a part could be a piece of any sentence: it counts where it is all that a line or clause says, or stands
    in capitals that go on to neither side (“NO PAD FOUND” is not PAD {state}).
    """
    fixed = [" ".join(part.split(" ")) for part in NAME.split(" ".join(message.split()))[::2]]
    text, spans = _open_ended(fixed, said) if len(fixed) > 1 and not (fixed[0] and fixed[-1]) else _closed(fixed, said)
    if spans is None:
        return None
    values = [text[start:end].strip() for start, end in spans]
    if values and not fixed[-1]:
        values[-1] = values[-1].rstrip(_AFTER_A_WORD)
    return dict(zip(names_in(message), values, strict=True)) if all(values) else None


Spans = tuple[tuple[int, int], ...]


def _closed(fixed: Sequence[str], said: str) -> tuple[str, Spans | None]:
    """Where the parts of a message stand that begins and ends with fixed words, and in which text."""
    text, small = _heard(said)
    return text, _spans(fixed, text) or _spans([_small(part) for part in fixed], small)


def _open_ended(fixed: Sequence[str], said: str) -> tuple[str, Spans | None]:
    """The same for one that begins or ends with a part."""
    if "".join(fixed).isupper():
        text, _ = _heard(said)
        spans = _spans(fixed, text, is_alone=True)
        if spans is not None:
            return text, spans
    for clause in _CLAUSES.split(said):
        text, small = _heard(clause)
        spans = _spans([_small(part) for part in fixed], small, is_whole=True)
        if spans is not None and (text.isupper() or not _is_long_at_an_end(fixed, text, spans)):
            return text, spans
    return "", None


def _is_long_at_an_end(fixed: Sequence[str], text: str, spans: Spans) -> bool:
    """Whether a part at either end has several words: in small letters a sentence may have gone on."""
    ends = [*([spans[0]] if not fixed[0] else []), *([spans[-1]] if not fixed[-1] else [])]
    return any(" " in text[start:end].strip() for start, end in ends)


@lru_cache(maxsize=64)
def _heard(said: str) -> tuple[str, str]:
    """What was said with single blanks between words, and the same in small letters."""
    text = " ".join("".join(letter if letter.isprintable() else " " for letter in said).split())
    return text, _small(text)


def _small(text: str) -> str:
    """In small letters, every one where it was: a few letters have two small ones."""
    return "".join(small if len(small := letter.lower()) == 1 else letter for letter in text)


class _Way(NamedTuple):
    """The best way to fit the words so far that ends at one place. length: of its parts together; spans: theirs."""

    end: int
    length: int
    spans: tuple[tuple[int, int], ...]


def _spans(fixed: Sequence[str], text: str, is_alone: bool = False, is_whole: bool = False) -> Spans | None:
    """Where the parts stand between the fixed words, the shortest together; None when these are not there. is_alone:
    capitals go on neither before nor after them; is_whole: nothing else stands there at all."""
    if not all(words in text for words in fixed):
        return None
    starts: Iterable[int] = _places(fixed[0], text, is_first=True)
    if is_alone or is_whole:
        starts = (place for place in starts if not (text[:place] if is_whole else _shouted_before(text, place)))
    ways = [_Way(start + len(fixed[0]), 0, ()) for start in starts]
    for number, words in enumerate(fixed[1:], start=1):
        is_last = number == len(fixed) - 1
        ways = _extended(ways, list(_places(words, text, is_last=is_last)), len(words))
    if len(fixed) == 1:
        ways = [way for way in ways if _is_edge(text, way.end)]
    if is_alone or is_whole:
        ways = [way for way in ways if not (text[way.end :] if is_whole else _shouted_after(text, way.end))]
    return min(ways, key=lambda way: way.length).spans if ways else None


def _extended(ways: Sequence[_Way], starts: Sequence[int], width: int) -> list[_Way]:
    """Each way with the part that leads from it to the next fixed words, the best for each of their places."""
    made: list[_Way] = []
    reachable: deque[_Way] = deque()
    waiting = iter(ways)
    following = next(waiting, None)
    for start in starts:
        while following is not None and following.end < start:
            while reachable and reachable[-1].length - reachable[-1].end >= following.length - following.end:
                reachable.pop()
            reachable.append(following)
            following = next(waiting, None)
        while reachable and reachable[0].end < start - _LONGEST_PART:
            reachable.popleft()
        if reachable:
            best = reachable[0]
            made.append(_Way(start + width, best.length + start - best.end, (*best.spans, (best.end, start))))
    return made


def _places(words: str, text: str, is_first: bool = False, is_last: bool = False) -> Iterator[int]:
    """Where the fixed words stand, in order. Before the first and after the last, a word begins or ends."""
    if not words:
        for place in range(len(text) + 1):
            if (not is_first or _begins(text, place)) and (not is_last or _ends(text, place)):
                yield place
        return
    place = text.find(words)
    while place >= 0:
        if (not is_first or _is_edge(text, place)) and (not is_last or _is_edge(text, place + len(words))):
            yield place
        place = text.find(words, place + 1)


def _shouted_before(text: str, place: int) -> bool:
    """Whether the word before this place is in capitals, so that a message may have begun there."""
    start = text.rfind(" ", 0, max(place - 1, 0)) + 1
    return _is_shouted(text[start:place].strip())


def _shouted_after(text: str, place: int) -> bool:
    end = text.find(" ", place + 1)
    return text[place - 1] not in _AFTER_A_WORD and _is_shouted(text[place : end if end >= 0 else len(text)].strip())


def _is_shouted(word: str) -> bool:
    return len(word) > 1 and word.isupper() and word[-1] not in _AFTER_A_WORD


def _is_edge(text: str, place: int) -> bool:
    """Whether no word goes on across this place."""
    return not (0 < place < len(text) and text[place - 1].isalnum() and text[place].isalnum())


def _begins(text: str, place: int) -> bool:
    return place < len(text) and text[place] != " " and (place == 0 or text[place - 1] == " ")


def _ends(text: str, place: int) -> bool:
    return place > 0 and text[place - 1] != " " and (place == len(text) or text[place] == " ")
