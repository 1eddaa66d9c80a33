"""The one index by which logged cases are found: words, symptom, end and steps, all in the order in which cases closed.

It holds places, not cases. A place is a whole number that grows with the closing second and, within it, with the
number of the case; the last closed of whatever fits are read from the index backwards, nothing sorted or counted.
"""

import json
import re
import unicodedata
from collections.abc import Iterable, Sequence
from datetime import UTC, date, datetime
from functools import lru_cache
from hashlib import blake2b
from typing import NamedTuple

from sqlalchemy import Connection

from mildladder.store.log.sql import driver

__all__ = [
    "Entry",
    "Kind",
    "count",
    "day_at",
    "enter",
    "first_place",
    "leave",
    "marks_of",
    "match_of",
    "number_at",
    "place_of",
    "places",
    "rebuild_index",
    "words_of",
]

_NUMBER_BITS = 30
_LAST_SECOND = (1 << 33) - 1
_SHORT = 2
_BATCH = 5_000


class Entry(NamedTuple):
    """A case as it is found: its place, its texts, and marks for its symptom, its end and each of its steps."""

    place: int
    words: str
    marks: str


class Kind:
    """What a mark stands for."""

    SYMPTOM = "s"
    END = "e"
    STEP = "t"


def place_of(closed: datetime, number: int) -> int:
    """Where a case stands in the log. What is no moment of the years that cases have stands at one end."""
    second = min(max(int(closed.timestamp()), 0), _LAST_SECOND)
    return (second << _NUMBER_BITS) | number


def number_at(place: int) -> int:
    """The number of the case at that place."""
    return place & ((1 << _NUMBER_BITS) - 1)


def words_of(texts: Iterable[str | None]) -> str:
    """What words of a case are found in. texts: what was said, notes, unit, id, the other
    system's number, who called and where to call back."""
    return " ".join(text for text in texts if text)


def marks_of(symptom: str, end: str, steps: Iterable[str]) -> str:
    """The marks of a case, one word each."""
    tried = (_mark(Kind.STEP, step) for step in dict.fromkeys(steps))
    return " ".join((_mark(Kind.SYMPTOM, symptom), _mark(Kind.END, end), *tried))


@lru_cache(maxsize=4096)
def _mark(kind: str, name: str) -> str:
    """One word for a name, which the index must not part: names hold hyphens, blanks and what not."""
    return kind + blake2b(name.encode(), digest_size=8).hexdigest()


def enter(connection: Connection, entries: Iterable[Entry]) -> None:
    """Put cases into the index; in the order of their places, for anything else makes it write each at once."""
    statement = "INSERT INTO case_index (rowid, words, marks) VALUES (?, ?, ?)"
    driver(connection).executemany(statement, sorted(entries))


def leave(connection: Connection, numbers: Sequence[int]) -> None:
    """Take cases out of the index, while their rows are still there: it forgets a case by what it knows of it."""
    gone: list[Entry] = []
    for start in range(0, len(numbers), _BATCH):
        gone += _entries(connection, f"number IN ({', '.join(map(str, numbers[start : start + _BATCH]))})")
    statement = "INSERT INTO case_index (case_index, rowid, words, marks) VALUES ('delete', ?, ?, ?)"
    driver(connection).executemany(statement, sorted(gone))


def rebuild_index(connection: Connection) -> None:
    """Index every case again."""
    driver(connection).execute("INSERT INTO case_index (case_index) VALUES ('delete-all')")
    last = -1
    while some := _entries(connection, f"place > {last} ORDER BY place LIMIT {_BATCH}"):
        enter(connection, some)
        last = some[-1].place


def _entries(connection: Connection, where: str) -> list[Entry]:
    rows = driver(connection).execute(
        "SELECT place, said, notes, unit, id, json_extract(rest, '$.ticket'), json_extract(rest, '$.caller'),"
        " json_extract(rest, '$.call_back'), symptom, \"end\","
        ' (SELECT json_group_array(step) FROM attempts WHERE attempts."case" = cases.number)'
        f" FROM cases WHERE {where}"
    )
    return [
        Entry(place, words_of(texts), marks_of(symptom, end, json.loads(steps)))
        for place, *texts, symptom, end, steps in rows
    ]


# Asking


def match_of(words: str, names: Iterable[tuple[str, Sequence[str]]]) -> str | None:
    """What the index is asked for cases that have all words and, of each kind of mark, one of the names.

    Each word begins one of the case; but one or two letters, when more follows them, are a whole word, since so much
    begins with them (what begins with one letter is indexed for itself). None: words are asked for and there are none
    in the text.
    """
    parts = []
    if words:
        known = re.findall(r"[^\W_]+", _plain(words))
        if not known:
            return None
        *former, last = known
        asked = [f'"{word}"' if len(word) <= _SHORT else f'"{word}"*' for word in former]
        asked.append(f'"{last}"*')
        parts.append(f"words : ({' AND '.join(asked)})")
    for kind, wanted in names:
        parts.append(f"marks : ({' OR '.join(_mark(kind, name) for name in wanted)})")
    return " AND ".join(parts)


def _plain(text: str) -> str:
    """The text as the index reads it: in small letters, marks over them left out."""
    return "".join(c for c in unicodedata.normalize("NFKD", text.lower()) if not unicodedata.combining(c))


def places(connection: Connection, match: str, before: int | None, limit: int, skipped: int = 0) -> list[int]:
    """The last places that fit, going back; from below one of them, if given. skipped: so many of them are left out."""
    where, values = ("AND rowid < ?", (before,)) if before is not None else ("", ())
    query = f"SELECT rowid FROM case_index WHERE case_index MATCH ? {where} ORDER BY rowid DESC LIMIT ? OFFSET ?"
    values = (match, *values, limit, skipped)
    return [row[0] for row in driver(connection).execute(query, values)]


def first_place(connection: Connection, match: str) -> int | None:
    """The first place that fits; None for none."""
    query = "SELECT rowid FROM case_index WHERE case_index MATCH ? ORDER BY rowid LIMIT 1"
    row = driver(connection).execute(query, (match,)).fetchone()
    return None if row is None else int(row[0])


def day_at(place: int) -> date:
    """The day, in UTC, on which the case at that place closed."""
    return datetime.fromtimestamp(place >> _NUMBER_BITS, UTC).date()


def count(connection: Connection, match: str) -> int:
    """How many cases fit."""
    query = "SELECT count(*) FROM case_index WHERE case_index MATCH ?"
    found: int = driver(connection).execute(query, (match,)).fetchone()[0]
    return found
