"""The log under every move that it knows: after each, what is kept equals what the cases alone say.

The slow twin below works everything out from the cases, by the words of the design and not by the code's.
"""

import json
import math
import os
import shutil
from collections import Counter
from datetime import UTC, date, datetime, timedelta, timezone

import hypothesis.strategies as st
from hypothesis import HealthCheck, Phase, settings
from hypothesis.stateful import (
    RuleBasedStateMachine,
    initialize,
    invariant,
    precondition,
    rule,
    run_state_machine_as_test,
)

from mildladder.core.errors import Conflict
from mildladder.core.model import Case, Fact
from mildladder.desk.library.facts import know_facts
from mildladder.desk.library.steps import merge_steps
from mildladder.desk.log.intake import begin_import, end_import
from mildladder.store.database import Database
from mildladder.store.log.rebuild import rebuild
from mildladder.store.log.rows import load_cases
from mildladder.store.log.tallies import fold
from mildladder.store.log.undoing import undo_some
from mildladder.store.log.writing import Logging, log_cases, unlog_cases
from tests.conftest import LEAD_ID, SHELL
from tests.samples import NOON

WINDOW = 14
STEPS = ("clear-hold", "reload-program", "sensor-look", "hold-off")
OUTCOMES = ("fixed", "no-change", "better", "could-not", "nothing-to-do")
FACTS = ("model", "lane", "wet")
ZONES = (UTC, timezone(timedelta(hours=5)), timezone(timedelta(hours=-11)))
CURED = ("resolved", "worked-around")

hours = st.integers(min_value=0, max_value=24 * 40)
attempts = st.lists(
    st.fixed_dictionaries(
        {
            "step": st.sampled_from(STEPS),
            "outcome": st.sampled_from(OUTCOMES),
            "minutes": st.sampled_from([None, 0.0, 0.05, 1.0, 3.0, 400.0]),
            "trial": st.sampled_from([None, 1, 2]),
            "harmed": st.sampled_from([None, [], ["data"], ["data", "service"]]),
            "by": st.sampled_from(["desk", "before"]),
            "safeguard_used": st.sampled_from([None, "save-counts"]),
            "put_right": st.sampled_from([None, "whole", "no"]),
            "ways": st.sampled_from([None, [], ["By hand"], ["By hand", "By key ä"]]),
            "tried_with": st.sampled_from([None, [{"level": "3"}, {"level": "ä 4"}]]),
        }
    ).map(lambda one: one if one["safeguard_used"] else {**one, "put_right": None}),
    max_size=3,
)


@st.composite
def cases(draw, name=None) -> Case:
    """A case of the sample symptom, somewhere in forty days, in any zone."""
    zone = draw(st.sampled_from(ZONES))
    opened = (NOON - timedelta(hours=draw(hours))).astimezone(zone)
    closed = opened + timedelta(minutes=draw(st.sampled_from([0, 10, 300, 4000])))
    tried = draw(attempts)
    fixed = [one["step"] for one in tried if one["outcome"] == "fixed"]
    told = closed + timedelta(days=draw(st.integers(0, 20))) if draw(st.integers(0, 9)) == 0 else None
    return Case.model_validate(
        {
            "case": name or f"C-{draw(st.integers(1, 25))}",
            "opened": opened,
            "closed": closed,
            "symptom": draw(st.sampled_from(["gate-arm-up", "elsewhere"])),
            "unit": draw(st.sampled_from([None, "GR4-1", "unknown"])),
            "facts": draw(st.dictionaries(st.sampled_from((*FACTS, "site")), st.sampled_from(["a", "b"]), max_size=3)),
            "attempts": tried,
            "baseline": draw(st.sampled_from([None, "fails"])),
            "passed": draw(st.sampled_from([[], [{"step": "hold-off", "why": "not here"}]])),
            "end": "resolved" if fixed else draw(st.sampled_from(["handed-off", "abandoned"])),
            "resolved_by": fixed[-1] if fixed else None,
            "came_back": told,
        }
    )


class Log(RuleBasedStateMachine):
    """The log, and what a slow twin knows: cases by id with their origin, merges, known facts, folded days."""

    folder = None

    @initialize()
    def begin(self):
        self.desk: Database = Log.folder()
        self.cases: dict[str, tuple[Case, str]] = {}
        self.into: dict[str, str] = {}
        self.known = {"model"}
        self.folded = date(1, 1, 1)
        self.imports: list[tuple[int, dict[str, tuple[Case, str]]]] = []

    def log(self, many: list[Case], origin: str, number: int | None = None) -> None:
        with self.desk.writing() as session:
            log_cases(session, many, Logging(origin, SHELL, NOON, WINDOW, number))
        for case in many:
            there = self.cases.get(case.case)
            if there is None or there[1] == origin:
                self.cases[case.case] = (case, origin)

    @rule(many=st.lists(cases(), min_size=1, max_size=4), origin=st.sampled_from(["import", "import", "guided"]))
    def log_some(self, many, origin):
        self.log(many, origin)

    @precondition(lambda self: self.cases)
    @rule(data=st.data())
    def log_again(self, data):
        case, origin = self.cases[data.draw(st.sampled_from(sorted(self.cases)))]
        self.log([case], origin)

    @precondition(lambda self: self.cases)
    @rule(data=st.data(), later=st.sampled_from([0, 20, 60, 61]))
    def log_under_another_id(self, data, later):
        telling = sorted(name for name, (case, _) in self.cases.items() if case.unit and case.attempts)
        if not telling:
            return
        case, origin = self.cases[data.draw(st.sampled_from(telling))]
        moved = {name: getattr(case, name) + timedelta(minutes=later) for name in ("opened", "closed")}
        name = f"C-{data.draw(st.integers(26, 30))}"
        self.log([case.model_copy(update={**moved, "case": name, "came_back": None})], origin)

    @precondition(lambda self: self.cases)
    @rule(data=st.data())
    def correct(self, data):
        name = data.draw(st.sampled_from(sorted(self.cases)))
        self.log([data.draw(cases(name))], self.cases[name][1])

    @precondition(lambda self: self.cases)
    @rule(data=st.data())
    def delete(self, data):
        name = data.draw(st.sampled_from(sorted(self.cases)))
        with self.desk.writing() as session:
            (row,) = load_cases(session.connection(), "id", [name])
            unlog_cases(session, [row.number], WINDOW)
        del self.cases[name]

    @rule(many=st.lists(cases(), min_size=1, max_size=3), data=st.data())
    def bring_in(self, many, data):
        if self.cases:
            many = [*many, data.draw(cases(data.draw(st.sampled_from(sorted(self.cases)))))]
        before = dict(self.cases)
        with self.desk.writing() as session:
            number = begin_import(session, "office.jsonl", SHELL, NOON)
        self.log(many, "import", number)
        with self.desk.writing() as session:
            end_import(session, number, "done")
        self.imports = [(number, before)]

    @precondition(lambda self: self.imports)
    @rule()
    def undo_the_import(self):
        number, before = self.imports.pop()
        touched = self.brought_by(number)
        with self.desk.writing() as session:
            while undo_some(session, number, WINDOW):
                pass
        # What was changed since is no longer the import's.
        for name in touched:
            if name in before:
                self.cases[name] = before[name]
            else:
                del self.cases[name]

    def brought_by(self, number: int) -> dict[str, tuple[Case, str]]:
        with self.desk.reading() as session:
            rows = load_cases(session.connection(), "brought_by", [number])
        return {row.case.case: (row.case, row.origin) for row in rows}

    @rule(
        pair=st.sampled_from(
            [("hold-off", "clear-hold"), ("clear-hold", "reload-program"), ("reload-program", "hold-off")]
        )
    )
    def merge(self, pair):
        old, new = pair
        is_ring = self.counts_as(new) == old
        try:
            with self.desk.writing() as session:
                merge_steps(session, old, new, LEAD_ID, NOON)
        except Conflict:
            assert is_ring or old in self.into
        else:
            assert not is_ring
            self.into[old] = new

    def counts_as(self, step: str) -> str:
        while step in self.into:
            step = self.into[step]
        return step

    @rule(fact=st.sampled_from([("lane", "choice"), ("wet", "yes-no"), ("notes", "text")]))
    def come_to_know(self, fact):
        name, kind = fact
        choices = {"choices": {"a": 0.5, "b": 0.5}} if kind == "choice" else {}
        with self.desk.writing() as session:
            know_facts(session, [Fact(id=name, ask="?", type=kind, **choices)], LEAD_ID, NOON)
        self.known |= {name} - {"notes"}

    @rule(days=st.integers(min_value=-30, max_value=30))
    def the_clock_stands_at(self, days):
        today = (NOON + timedelta(days=days)).date()
        with self.desk.writing() as session:
            fold(session, today, WINDOW)
        self.folded = max(self.folded, today - timedelta(days=WINDOW))

    @invariant()
    def what_is_kept_is_what_the_cases_say(self):
        if not hasattr(self, "desk"):
            return
        with self.desk.reading() as session:
            rows = load_cases(session.connection(), "symptom", ["gate-arm-up", "elsewhere"])
            kept = snapshot(session)
        assert {row.case.case: (row.case, row.origin) for row in rows} == self.cases
        twin = self.twin()
        assert {row.case.case: row.came_back for row in rows} == {name: self.came_back(name) for name in self.cases}
        assert kept == twin
        assert all(
            count > 0 for one in kept for count in [row[0] if isinstance(row, tuple) else row for row in one.values()]
        )

    @rule()
    def rebuild_gives_the_same(self):
        with self.desk.writing() as session:
            before = snapshot(session)
            rebuild(session, WINDOW)
            assert snapshot(session) == before

    def teardown(self):
        if hasattr(self, "desk"):
            self.desk.close()

    # The slow twin

    def came_back(self, name: str) -> datetime | None:
        case = self.cases[name][0]
        later = [
            other.opened
            for key, (other, _) in self.cases.items()
            if key != name
            and case.unit
            and (other.symptom, other.unit) == (case.symptom, case.unit)
            and case.closed <= other.opened <= case.closed + timedelta(days=WINDOW)
        ]
        found = [case.came_back] if case.came_back else []
        return min(found + (later if case.end in CURED else []), default=None)

    def is_double(self, name: str) -> bool:
        case = self.cases[name][0]
        return any(
            key != name
            and case.unit
            and (other.symptom, other.unit) == (case.symptom, case.unit)
            and timedelta() <= case.opened - other.opened <= timedelta(hours=1)
            and (other.opened, key) < (case.opened, name)
            and case.attempts
            and self.tried(other) == self.tried(case)
            for key, (other, _) in self.cases.items()
        )

    def tried(self, case: Case) -> list:
        sizes = Counter(attempt.trial for attempt in case.attempts)
        numbers: dict[int, int] = {}
        made = []
        for attempt in case.attempts:
            shared = attempt.trial is not None and sizes[attempt.trial] > 1
            trial = numbers.setdefault(attempt.trial, len(numbers) + 1) if shared else None
            made.append(
                [
                    self.counts_as(attempt.step),
                    attempt.outcome,
                    attempt.finding,
                    trial,
                    None,
                    int(attempt.by == "before"),
                ]
            )
        return made

    def twin(self) -> tuple[Counter, Counter]:
        tallies: dict[tuple, list[int]] = {}
        steps: Counter = Counter()
        for name, (case, origin) in self.cases.items():
            day = case.closed.astimezone(UTC).date()
            period = day.isoformat() if day >= self.folded else day.isoformat()[:7]
            facts = {fact: value for fact, value in sorted(case.facts.items()) if fact in self.known}
            stratum = (
                case.symptom,
                0,
                period,
                case.facts.get("site", ""),
                origin == "guided",
                json.dumps(facts, separators=(",", ":")),
                self.is_double(name),
            )
            ended_by = self.counts_as(case.resolved_by) if case.resolved_by else None
            sign = (
                self.tried(case),
                case.end,
                ended_by,
                case.baseline,
                list(dict.fromkeys(self.counts_as(one.step) for one in case.passed)),
            )
            back = self.came_back(name)
            counts = tallies.setdefault((stratum, json.dumps(sign, separators=(",", ":"))), [0, 0, 0])
            counts[0] += 1
            counts[1] += back is not None
            counts[2] += round((case.closed - case.opened).total_seconds())
            steps[stratum, "", "minutes", bin_of((case.closed - case.opened).total_seconds() / 60)] += 1
            for attempt in case.attempts:
                step = self.counts_as(attempt.step)
                if attempt.minutes is not None:
                    steps[stratum, step, "minutes", bin_of(attempt.minutes)] += 1
                if attempt.harmed is not None:
                    for value in ("asked", *attempt.harmed):
                        steps[stratum, step, "harm", value] += 1
                if attempt.safeguard_used:
                    steps[stratum, step, "safeguard", attempt.safeguard_used] += 1
                if attempt.put_right:
                    steps[stratum, self.counts_as(attempt.safeguard_used), "put-right", attempt.put_right] += 1
                for words in attempt.ways or ():
                    steps[stratum, step, "way", words] += 1
            if back is not None and ended_by is not None:
                steps[stratum, ended_by, "return", str((back - case.closed).days)] += 1
        return {key: tuple(value) for key, value in tallies.items()}, dict(steps)


def bin_of(minutes: float) -> str:
    return "0" if minutes < 0.0625 else str(1 + math.floor(8 * math.log2(16 * minutes)))


def snapshot(session) -> tuple[dict, dict]:
    """Every tally and every count of a step, under what its key says."""
    connection = session.connection()
    key = "symptom, edition, period, site, is_guided, facts, is_double"
    tallies = connection.exec_driver_sql(
        f"SELECT {key}, text, count, returned, seconds FROM tallies JOIN strata ON strata.number = stratum"
        " JOIN signatures ON signatures.number = signature"
    )
    steps = connection.exec_driver_sql(
        f"SELECT {key}, step, what, value, count FROM step_tallies JOIN strata ON strata.number = stratum"
    )
    return (
        {(stratum_of(row), row[7]): tuple(row[8:]) for row in tallies},
        {(stratum_of(row), *row[7:10]): row[10] for row in steps},
    )


def stratum_of(row) -> tuple:
    return (*row[:4], bool(row[4]), row[5], bool(row[6]))


def test_the_log_under_every_move(tmp_path_factory, templates):
    Log.folder = staticmethod(lambda: desk_of_its_own(tmp_path_factory, templates))
    run_state_machine_as_test(
        Log,
        settings=settings(
            max_examples=int(os.environ.get("LOG_EXAMPLES", "60")),
            stateful_step_count=25,
            deadline=None,
            derandomize=True,
            suppress_health_check=list(HealthCheck),
            phases=[Phase.generate] if os.environ.get("UNSHRUNK") else list(Phase),
        ),
    )


def desk_of_its_own(tmp_path_factory, templates) -> Database:
    path = tmp_path_factory.mktemp("log") / "desk.db"
    shutil.copy(templates / "log.db", path)
    return Database(path)
