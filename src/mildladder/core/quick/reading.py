"""Read a line of quick words: the title, then parts in any order, each understood or told as not understood."""

import re
from collections.abc import Collection, Iterable, Iterator
from dataclasses import dataclass, field
from functools import cache
from importlib import resources
from typing import Any, NamedTuple

from lark import Lark, Token, Tree

from mildladder.core.model.base import Chance
from mildladder.core.model.quick import QuickEnd, QuickStep, Unread
from mildladder.core.model.step import Effort, Hazard
from mildladder.core.quick.saying import sentence
from mildladder.core.quick.separators import with_plain_separators
from mildladder.core.quick.table import BAD, CHANCES, LIKELY, USUAL_BAD, USUAL_CHANCE, USUAL_LIKELY

__all__ = ["MOST_CHARACTERS", "Known", "lines_of", "read_line"]

MOST_CHARACTERS, MOST_TITLE = 1000, 300
_SEPARATOR = re.compile(r"(?<!\d),|,(?!\d)|[;\t|]")
_BULLET = re.compile(r"^\s*(?:[-–—*•‣◦▪·]|\(?\d{1,3}[.):]|[a-zA-Z][.)])\s+")
# What stands before a title, up to what parts it from the title.
_PREFIX = re.compile(r"(?P<said>[^;:\t|]{0,80}?)\s*(?:;|\t|\||:(?=\s)|(?<=\s)[-–—](?=\s))\s*")
_QUOTES = {'"': '"', "“": "”", "„": "“", "«": "»"}


@dataclass(frozen=True)
class Known:
    """Titles that the playbook has: a cause or a state is called as it is there, however it is written here."""

    causes: Collection[str] = ()
    footings: Collection[str] = ()


class _Segment(NamedTuple):
    text: str
    start: int


@dataclass
class _Found:
    """What the parts of a line have said so far."""

    effort: dict[str, Any] = field(default_factory=dict)
    said: dict[str, Any] = field(default_factory=dict)
    hazards: list[Hazard] = field(default_factory=list)
    ends: list[QuickEnd] = field(default_factory=list)
    finds: list[str] = field(default_factory=list)
    do: list[str] = field(default_factory=list)
    unread: list[Unread] = field(default_factory=list)
    count: int = 0


def lines_of(text: str) -> list[str]:
    """The lines of a pasted list, without empty ones, numbers and bullets."""
    lines = (_BULLET.sub("", line).strip() for line in re.split(r"\r\n?|\n|\u2028|\u2029|\x0b|\x0c|\x85", text))
    return [line for line in lines if line]


def read_line(line: str, known: Known | None = None) -> QuickStep:
    """What a line says. Every word of it is understood, or stands in `unread`; never raises."""
    known = known or Known()
    if len(line) > MOST_CHARACTERS:
        says = f"a line of quick words has at most {MOST_CHARACTERS:,} characters, this one has {len(line):,}"
        return QuickStep(title="", wrong=says)
    plain = with_plain_separators(line, lambda text: _is_understood(text, known))
    before, begins = _before_title(plain, known)
    title, is_quoted, after = _title_of(line, list(_segments(plain, begins)), known)
    found = _Found()
    _read_all([*before, *after], known, found)
    kind = found.said.pop("kind", "check" if found.finds and not found.ends else "fix")
    made = QuickStep(
        title=title,
        kind=kind,
        effort=Effort(**found.effort),
        hazards=tuple(found.hazards),
        ends=tuple(found.ends),
        finds=tuple(found.finds),
        do=tuple(found.do),
        unread=tuple(found.unread),
        doubts=tuple(_doubts(title, is_quoted, found)),
        wrong=_wrong(title),
        **found.said,
    )
    return made.model_copy(update={"says": sentence(made)})


def _wrong(title: str) -> str | None:
    if not title:
        return "the title is missing: it comes first, before the first comma"
    if len(title) > MOST_TITLE:
        return f"a title has at most {MOST_TITLE} characters, this one has {len(title)}"
    return None


def _doubts(title: str, is_quoted: bool, found: _Found) -> Iterator[str]:
    """What may have been meant otherwise, although every word is understood or part of the title."""
    number = re.search(r"\d+(?:[.,]\d+)?", title)
    if number and not is_quoted:
        yield f"the number {number[0]} belongs to the title"
    if "hands_on" not in found.effort:
        yield "no minutes given"


def _before_title(plain: str, known: Known) -> tuple[list[_Segment], int]:
    """The parts that stand before the title, as in “check: Read the home sensor”, and where the title begins."""
    before: list[_Segment] = []
    begins = 0
    while there := _PREFIX.match(plain, begins):
        parts = list(_segments(plain[: there.end("said")], begins))
        if there["said"].strip() and not _is_understood(there["said"], known):
            break
        if not plain[there.end() :].strip(" ;"):
            break
        before += parts
        begins = there.end()
    return before, begins


def _is_understood(text: str, known: Known) -> bool:
    """Whether each part says something, and every word of it is understood. A number alone could be anything."""
    return all(_says_something(part, known) for part in _segments(text))


def _says_something(part: _Segment, known: Known) -> bool:
    if not re.search(r"[^\W\d]", part.text):
        return False
    found = _Found()
    _read(part, known, found)
    return found.count > 0 and not found.unread


def _segments(line: str, start: int = 0) -> Iterator[_Segment]:
    """The parts between separators, from that place; a separator within quotes parts nothing."""
    at = start
    while at < len(line):
        if line[at] in _QUOTES and (end := line.find(_QUOTES[line[at]], at + 1)) > at:
            at = end + 1
            continue
        if _SEPARATOR.match(line, at):
            yield _Segment(line[start:at], start)
            start = at + 1
        at += 1
    yield _Segment(line[start:], start)


def _title_of(line: str, segments: list[_Segment], known: Known) -> tuple[str, bool, list[_Segment]]:
    """The first part, and those after it in which nothing is understood, up to the first in which something is; all
    that is left of the line, where nothing of it is. With it whether it stands in quotes, and the parts after it."""
    first, rest = segments[0], segments[1:]
    quoted = _unquoted(first.text.strip())
    if quoted != first.text.strip():
        return _one_line(quoted), True, rest
    last = first
    parts = [_Found() for _ in rest]
    for segment, found in zip(rest, parts, strict=True):
        _read(segment, known, found)
    if not any(found.count for found in parts):
        return _one_line(line[first.start :]), False, []
    while not parts[0].count:
        last, rest, parts = rest[0], rest[1:], parts[1:]
    return _one_line(line[first.start : last.start + len(last.text)]), False, rest


def _one_line(text: str) -> str:
    return " ".join(text.split())


def _unquoted(text: str) -> str:
    if len(text) > 2 and text[0] in _QUOTES and text.endswith(_QUOTES[text[0]]):
        inner = text[1:-1]
        return inner if _QUOTES[text[0]] not in inner else text
    return text


@cache
def _grammar() -> Lark:
    text = resources.files("mildladder.core.quick").joinpath("quick.lark").read_text(encoding="utf-8")
    return Lark(text, parser="lalr", maybe_placeholders=False, propagate_positions=True)


def _read_all(segments: list[_Segment], known: Known, found: _Found) -> None:
    """Read the parts in turn. What follows instructions behind a comma and says nothing itself is part of them."""
    is_doing = False
    for segment in segments:
        alone = _Found()
        _read(segment, known, alone)
        if is_doing and segment.text.strip() and not alone.count:
            found.do[-1] += f", {_one_line(segment.text)}"
            continue
        _read(segment, known, found)
        is_doing = bool(alone.do)


def _read(segment: _Segment, known: Known, found: _Found) -> None:
    footing = _same(segment.text.strip(), known.footings)
    if footing is not None:
        _once(found, "footing", footing)
        return
    for part in _grammar().parse(segment.text).children:
        assert isinstance(part, Tree)
        if not _take(part, known, found):
            text = segment.text[part.meta.start_pos : part.meta.end_pos]
            start = segment.start + part.meta.start_pos
            found.unread.append(Unread(start=start, end=start + len(text), text=text))


def _take_list(text: str, into: list[str], found: _Found) -> bool:
    """Take what stands behind the first word, parted by strokes."""
    said = [_one_line(_unquoted(one.strip())) for one in text.split(None, 1)[1].split("/")]
    into += [one for one in said if one]
    found.count += 1
    return any(said)


def _once(found: _Found, name: str, value: Any) -> bool:
    """Whether it was not said yet: what is said twice is not understood."""
    return _first(found, found.said, name, value)


def _first(found: _Found, said: dict[str, Any], name: str, value: Any) -> bool:
    if name in said:
        return False
    said[name] = value
    found.count += 1
    return True


def _take(part: Tree[Token], known: Known, found: _Found) -> bool:
    """Take what a part says; False for what is not understood."""
    words = [str(token) for token in part.scan_values(lambda value: isinstance(value, Token))]
    match part.data:
        case "minutes":
            return _first(found, found.effort, "hands_on", _minutes(part))
        case "waiting":
            return _first(found, found.effort, "wait", _minutes(part))
        case "journey":
            return _first(found, found.effort, "travel", _minutes(part))
        case "money":
            return _first(found, found.effort, "parts", _number_in(words))
        case "person":
            return _first(found, found.effort, "by", words[0].split()[-1].lower())
        case "kind":
            return _once(found, "kind", words[0].split()[-1].lower())
        case "done":
            share = _number_in(words) / 100
            return share <= 1 and _once(found, "done", share)
        case "hazard":
            return _take_hazard(part, found)
        case "ends":
            return _take_ends(words[0].split(None, 1)[1], known, found)
        case "finds":
            return _take_list(words[0], found.finds, found)
        case "doing":
            return _take_list(words[0], found.do, found)
        case "state":
            footing = _same(words[0].split(None, 1)[1], known.footings)
            return footing is not None and _once(found, "footing", footing)
        case "filler":
            return True
    return False


_FACTORS = {"in_minutes": 1.0, "in_hours": 60.0, "in_seconds": 1 / 60}


def _minutes(part: Tree[Token]) -> float:
    time = next(child for child in part.children if isinstance(child, Tree))
    return _number_in(map(str, time.children)) * _FACTORS[str(time.data)]


def _number_in(words: Iterable[str]) -> float:
    return next(float(word.rstrip("% \t").replace(",", ".")) for word in words if word[:1].isdigit())


def _take_hazard(part: Tree[Token], found: _Found) -> bool:
    first, *levels = part.children
    said: dict[str, float] = {}
    for level in levels:
        assert isinstance(level, Tree)
        if level.data == "share":
            said["likely"] = _number_in(map(str, level.children)) / 100
            continue
        table = BAD if level.data == "bad" else LIKELY
        said[str(level.data)] = table[" ".join(str(level.children[0]).lower().split())]
    if said.get("likely", 0) > 1:
        return False
    kind = str(first).lower().removesuffix("risk").split()[-1]
    hazard = {"kind": kind, "severity": said.get("bad", USUAL_BAD), "chance": said.get("likely", USUAL_LIKELY)}
    found.hazards.append(Hazard.model_validate(hazard))
    found.count += 1
    return True


_CHANCE = re.compile(
    rf"\s+(?P<word>{'|'.join(map(re.escape, [*CHANCES, *CHANCES.values()]))})(?!\w)|\s+(?P<figure>\d+(?:[.,]\d+)?)\s*%",
    re.IGNORECASE,
)


def _take_ends(text: str, known: Known, found: _Found) -> bool:
    """Causes, each with a word or a figure behind it, joined by *and*."""
    ends: list[QuickEnd] = []
    rest = text.strip()
    while rest:
        title, chance, rest = _next_cause(rest, known)
        title = _one_line(_unquoted(title))
        if not title or len(title) > MOST_TITLE:
            return False
        pair = [title] if _same(title, known.causes) else title.split(" and ")
        titles = pair if all(_same(one, known.causes) for one in pair) else [title]
        ends += [QuickEnd(cause=_same(one, known.causes) or one, chance=chance) for one in titles]
    known_already = {end.cause for end in found.ends}
    if not ends or any(end.cause in known_already for end in ends) or len({end.cause for end in ends}) < len(ends):
        return False
    found.ends += ends
    found.count += 1
    return True


_JOINED = re.compile(r"\s*(?:$|(?:and|&|\+|/)\s+)", re.IGNORECASE)


def _next_cause(text: str, known: Known) -> tuple[str, Chance, str]:
    """The first cause, its chance, and what is left."""
    at = text.find(_QUOTES[text[0]], 1) + 1 if text[0] in _QUOTES else 0
    for title in sorted(known.causes, key=len, reverse=True):
        there = re.match(re.escape(title), text, re.IGNORECASE)
        if there and (joined := _JOINED.match(text, there.end())):
            return title, USUAL_CHANCE, text[joined.end() :]
    match = _CHANCE.search(text, at)
    while match:
        if joined := _JOINED.match(text, match.end()):
            return text[: match.start()].strip(), _chance(match), text[joined.end() :]
        match = _CHANCE.search(text, match.end())
    return text, USUAL_CHANCE, ""


def _chance(match: re.Match[str]) -> Chance:
    if match["figure"]:
        return min(float(match["figure"].replace(",", ".")) / 100, 1.0)
    return CHANCES[match["word"].lower().replace("-", " ")]


def _same(title: str, among: Collection[str]) -> str | None:
    """The one of these that it is, however it is written."""
    plain = _one_line(_unquoted(title.strip())).casefold()
    return next((one for one in among if _one_line(one).casefold() == plain), None)
