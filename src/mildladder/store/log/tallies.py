"""Add cases to the tallies and take them out again, many at a time; fold old days into months."""

from collections import defaultdict
from collections.abc import Collection, Iterable
from datetime import date, timedelta
from typing import Any

from sqlalchemy import Connection
from sqlalchemy.orm import Session

from mildladder.core.tally.keys import Counted, Stratum
from mildladder.core.tally.signature import digest
from mildladder.store.log.counting import FOLDED
from mildladder.store.log.sql import driver, rows_as
from mildladder.store.settings import keep_setting, setting

__all__ = ["Changes", "Numbers", "fold", "outdate", "stratum_numbers"]

_MANY = 500
_MOST_KNOWN = 200_000
_COLUMNS = ", ".join(Stratum._fields)


class Changes:
    """What is to be added to the tallies, by the numbers of strata and signatures; `apply` writes it."""

    def __init__(self) -> None:
        self.tallies: dict[tuple[int, int], list[int]] = defaultdict(lambda: [0, 0, 0])
        self.symptoms: set[str] = set()
        self.steps: dict[tuple[int, str, str, str], int] = defaultdict(int)

    def add(self, stratum: int, signature: int, case: Counted, sign: int) -> None:
        """One case more (sign 1) or less (sign -1)."""
        self.symptoms.add(case.stratum.symptom)
        counts = self.tallies[stratum, signature]
        counts[0] += sign
        counts[1] += sign * case.is_returned
        counts[2] += sign * case.seconds
        steps = self.steps
        for one in case.steps:
            steps[stratum, *one] += sign

    def apply(self, connection: Connection) -> None:
        """Write what was added; what counts nothing any more goes."""
        tallies = [(*key, *counts) for key, counts in self.tallies.items() if any(counts)]
        steps = [(*key, count) for key, count in self.steps.items() if count]
        _many(
            connection,
            "INSERT INTO tallies (stratum, signature, count, returned, seconds) VALUES (?, ?, ?, ?, ?)"
            " ON CONFLICT DO UPDATE SET count = count + excluded.count, returned = returned + excluded.returned,"
            " seconds = seconds + excluded.seconds",
            tallies,
        )
        _many(
            connection,
            "INSERT INTO step_tallies (stratum, step, what, value, count) VALUES (?, ?, ?, ?, ?)"
            " ON CONFLICT DO UPDATE SET count = count + excluded.count",
            steps,
        )
        less = [(row[0], row[1]) for row in tallies if row[2] <= 0]
        _many(connection, "DELETE FROM tallies WHERE stratum = ? AND signature = ? AND count = 0", less)
        gone = [row[:4] for row in steps if row[4] < 0]
        _many(
            connection,
            "DELETE FROM step_tallies WHERE stratum = ? AND step = ? AND what = ? AND value = ? AND count = 0",
            gone,
        )
        _grow_versions(connection, self.symptoms)


def outdate(session: Session, symptom: str) -> None:
    """What was worked out of a symptom's tallies holds no longer, though none of them has changed."""
    _grow_versions(session.connection(), {symptom})


def _grow_versions(connection: Connection, symptoms: Collection[str]) -> None:
    """What was worked out of these symptoms' tallies holds no longer."""
    _many(
        connection,
        "INSERT INTO tally_versions (symptom, version) VALUES (?, 1) ON CONFLICT DO UPDATE SET version = version + 1",
        [(symptom,) for symptom in sorted(symptoms)],
    )


def _many(connection: Connection, statement: str, rows: list[Any]) -> None:
    if rows:
        driver(connection).executemany(statement, rows)


def stratum_numbers(connection: Connection, strata: Collection[Stratum]) -> dict[Stratum, int]:
    """The numbers of these strata, made where there are none. A folded day never comes again: its month does."""
    wanted = sorted(set(strata))
    marks = ", ".join("?" * len(Stratum._fields))
    _many(connection, f"INSERT OR IGNORE INTO strata ({_COLUMNS}) VALUES ({marks})", [tuple(one) for one in wanted])
    same = " AND ".join(f"{name} = ?" for name in Stratum._fields)
    query = f"SELECT number FROM strata WHERE {same}"
    execute = driver(connection).execute
    return {one: execute(query, one).fetchone()[0] for one in wanted}


class Numbers:
    """The numbers of strata and signatures, each looked up once; good until something is rolled back."""

    def __init__(self) -> None:
        self.strata: dict[Stratum, int] = {}
        self.signatures: dict[str, int] = {}

    def learn(self, connection: Connection, cases: Iterable[Counted]) -> None:
        """Have a number for whatever these are counted under."""
        counted = list(cases)
        if len(self.strata) + len(self.signatures) > _MOST_KNOWN:
            self.strata, self.signatures = {}, {}
        self.strata |= stratum_numbers(connection, {one.stratum for one in counted} - self.strata.keys())
        self.signatures |= _signature_numbers(connection, {one.signature for one in counted} - self.signatures.keys())


def _signature_numbers(connection: Connection, texts: Collection[str]) -> dict[str, int]:
    """The numbers of these signatures, made where there are none."""
    digests = {digest(text): text for text in sorted(texts)}
    found: dict[str, int] = {}
    names = list(digests)
    _many(
        connection,
        "INSERT OR IGNORE INTO signatures (digest, text) VALUES (?, ?)",
        [(name, digests[name]) for name in names],
    )
    for start in range(0, len(names), _MANY):
        some = tuple(names[start : start + _MANY])
        marks = ", ".join("?" * len(some))
        rows = connection.exec_driver_sql(f"SELECT digest, number FROM signatures WHERE digest IN ({marks})", some)
        found |= {digests[name]: number for name, number in rows}
    return found


def fold(session: Session, today: date, return_window: int) -> None:
    """Count closing days whose return window has passed as months, so that old tallies stay few.

    A clock that goes back folds nothing back: what was folded stays so, and later cases of those days join it.
    """
    until = (today - timedelta(days=return_window)).isoformat()
    if until <= (setting(session, FOLDED) or ""):
        return
    keep_setting(session, FOLDED, until)
    connection = session.connection()
    of = "FROM strata WHERE length(period) = 10 AND period < ? AND folded_into IS NULL"
    days = list(rows_as(connection, Stratum, of, (until,)))
    months = {day: day._replace(period=day.period[:7]) for day in days}
    numbers = stratum_numbers(connection, [*months.keys(), *months.values()])
    for day, month in months.items():
        _move(connection, numbers[day], numbers[month])
    _grow_versions(connection, {month.symptom for month in days})


def _move(connection: Connection, day: int, month: int) -> None:
    for table, key, counts in (
        ("tallies", "signature", ("count", "returned", "seconds")),
        ("step_tallies", "step, what, value", ("count",)),
    ):
        grown = ", ".join(f"{name} = {name} + excluded.{name}" for name in counts)
        connection.exec_driver_sql(
            f"INSERT INTO {table} (stratum, {key}, {', '.join(counts)})"
            f" SELECT ?, {key}, {', '.join(counts)} FROM {table} WHERE stratum = ?"
            f" ON CONFLICT DO UPDATE SET {grown}",
            (month, day),
        )
        connection.exec_driver_sql(f"DELETE FROM {table} WHERE stratum = ?", (day,))
    connection.exec_driver_sql("UPDATE strata SET folded_into = ? WHERE number = ?", (month, day))
