"""Run two editions at once: plan it, give each case one of them, and see how they stand."""

import secrets
from collections import defaultdict
from datetime import datetime, timedelta
from typing import Annotated

from pydantic import Field
from sqlalchemy.orm import Session

from mildladder.core.advice.side_by_side import (
    Arm,
    Closed,
    Ground,
    Plan,
    Running,
    Stopped,
    coin,
    cost_of,
    ground_of,
    plan_of,
    running,
)
from mildladder.core.errors import BadInput, Conflict
from mildladder.core.evidence.pace import Pace
from mildladder.core.ladder.units import telling_facts, unit_groups
from mildladder.core.model import Case, Playbook, Shape
from mildladder.desk.advice.following import pace
from mildladder.desk.documents import document
from mildladder.desk.people import check_lead
from mildladder.store.advice import add_trial, cases_of, drop_cases, last_trial, put_case, rows_of, same_unit
from mildladder.store.cache import Needs, cached
from mildladder.store.editions import newest_number
from mildladder.store.log.search import newest_cases
from mildladder.store.tables import TrialCaseRow, TrialRow

__all__ = [
    "AskTrial",
    "Given",
    "SideBySide",
    "begin_trial",
    "belong",
    "close_case",
    "followed",
    "give",
    "refuse_publishing",
    "side_by_side",
    "stop_trial",
]

_LOOKED_AT = 1000
_SAME_FAULT = timedelta(days=1)
# Without another word a difference of a fifth is looked for.
_USUAL_DIFFERENCE = 0.2
Number = Annotated[int, Field(ge=1, le=1_000_000, strict=True)]


class AskTrial(Shape):
    """Two editions that are to run at once. difference: effort minutes a case that it is to find; None: a fifth."""

    a: Number
    b: Number
    difference: Annotated[float, Field(gt=0, le=1e6, allow_inf_nan=False)] | None = None


class Trial(Shape):
    """A trial of two editions. planned: cases; stopped: why it has ended, None while it runs or where a lead ended it;
    better: the edition in favour of which it stopped."""

    a: int
    b: int
    began: datetime
    ended: datetime | None
    difference: float
    planned: int
    stopped: Stopped | None
    better: int | None
    now: Running


class SideBySide(Shape):
    """The last trial of a symptom, None where there never was one; plan: what a trial of two editions would take at
    that pace, None where none was asked about or the log says too little."""

    trial: Trial | None
    plan: Plan | None
    pace: Pace | None
    mean_cost: float | None


class Given(Shape):
    """Which edition a case is guided by, and the row that says so, where a trial decided it."""

    edition: int
    trial: int | None = None
    arm: Arm | None = None
    first: str | None = None


def side_by_side(session: Session, playbook_id: str, asked: AskTrial | None, now: datetime) -> SideBySide:
    """How the last trial stands, and what another would take. Raises NotFound for editions that are not there."""
    row = last_trial(session, playbook_id)
    ground = plan = often = None
    if asked is not None and asked.a != asked.b:
        ground = _ground(session, playbook_id, asked)
        often = pace(session, playbook_id, now.date())
        if ground is not None and often.a_month > 0 and ground.variance > 0:
            plan = plan_of(ground, asked.difference or _USUAL_DIFFERENCE * ground.mean, often.a_month)
    return SideBySide(
        trial=_trial(session, row) if row is not None else None,
        plan=plan,
        pace=often,
        mean_cost=ground.mean if ground is not None else None,
    )


def begin_trial(session: Session, playbook_id: str, asked: AskTrial, who: int, now: datetime) -> None:
    """Run two editions at once from the next case on. Raises NotFound, NotTheirs for anybody but a lead, Conflict while
    another trial runs or where one of the two is not among what is published, and BadInput where the log says too
    little of what cases cost."""
    check_lead(session, who)
    last = last_trial(session, playbook_id)
    if last is not None and last.ended is None:
        raise Conflict(f"editions {last.a} and {last.b} run side by side already; stop that first")
    if asked.a == asked.b:
        raise Conflict("choose two editions; one beside itself says nothing")
    ground = _ground(session, playbook_id, asked)
    if ground is None or not ground.variance:
        raise BadInput("fewer than 40 cases say what a case costs, so nobody can say how long this would take")
    often = pace(session, playbook_id, now.date())
    difference = asked.difference or _USUAL_DIFFERENCE * ground.mean
    row = TrialRow(
        playbook_id=playbook_id,
        a=asked.a,
        b=asked.b,
        seed=secrets.token_hex(16),
        difference=difference,
        planned=plan_of(ground, difference, often.a_month).cases,
        ground=ground.model_dump(mode="json"),
        began=now,
        who=who,
    )
    add_trial(session, row)


def stop_trial(session: Session, playbook_id: str, who: int, now: datetime) -> None:
    """A lead ends a trial; what it has shown until then stays true. Raises NotTheirs, and Conflict where none runs."""
    check_lead(session, who)
    row = last_trial(session, playbook_id)
    if row is None or row.ended is not None:
        raise Conflict("no two editions run side by side here")
    row.ended = now


def refuse_publishing(session: Session, playbook_id: str) -> None:
    """Raises Conflict while two editions run side by side: agents would follow neither."""
    row = last_trial(session, playbook_id)
    if row is not None and row.ended is None:
        raise Conflict(f"editions {row.a} and {row.b} run side by side; stop that before another is published")


def followed(session: Session, playbook_id: str) -> int | None:
    """The edition that agents follow where no trial runs: the newest, unless a trial of it has ended in favour of the
    one that it ran beside."""
    newest = newest_number(session, playbook_id)
    row = last_trial(session, playbook_id)
    if row is None or row.better is None or newest not in (row.a, row.b):
        return newest
    return row.a if row.better == "a" else row.b


def give(
    session: Session, playbook_id: str, climb_id: str, unit: str, before: str | None, now: datetime
) -> Given | None:
    """By which edition a case that begins is guided; None where nothing is published. before: the guided case that it
    goes on from. What belongs to one fault keeps its edition: the same unit within a day, a case taken up again."""
    row = last_trial(session, playbook_id)
    if row is None or row.ended is not None:
        edition = followed(session, playbook_id)
        return Given(edition=edition) if edition is not None else None
    earlier = next((one for one in rows_of(session, before) if one.trial == row.number), None) if before else None
    if earlier is None and unit:
        earlier = same_unit(session, row.number, unit, now - _SAME_FAULT)
    arm: Arm = earlier.arm if earlier is not None else coin(row.seed, climb_id)  # type: ignore[assignment]
    first = earlier.first if earlier is not None else climb_id
    return Given(edition=row.a if arm == "a" else row.b, trial=row.number, arm=arm, first=first)


def belong(session: Session, given: Given, climb_id: str, unit: str, before: str | None, now: datetime) -> None:
    """Keep which edition a case was given, and that it counts with the one that it goes on from, of another symptom
    too."""
    if given.trial is not None:
        assert given.arm is not None
        assert given.first is not None
        put_case(session, _row(given.trial, climb_id, given.first, given.arm, unit, now))
    for earlier in rows_of(session, before) if before else ():
        put_case(session, _row(earlier.trial, climb_id, earlier.first, earlier.arm, "", now))


def _row(trial: int, climb_id: str, first: str, arm: str, unit: str, now: datetime) -> TrialCaseRow:
    return TrialCaseRow(
        trial=trial,
        climb_id=climb_id,
        first=first,
        arm=arm,
        unit=unit,
        began=now,
        closed=None,
        group="",
        cost=0.0,
        is_severe=False,
    )


def close_case(session: Session, climb_id: str, playbook: Playbook, case: Case | None, now: datetime) -> None:
    """A guided case has ended: count what it cost, and end a trial that is decided by it. case: None where it went into
    no log."""
    rows = rows_of(session, climb_id)
    if case is None:
        drop_cases(session, climb_id)
        return
    for row in rows:
        row.cost, row.is_severe = cost_of(playbook, case)
        row.group, row.closed = _group(playbook, case), now
        session.flush()
        trial = session.get_one(TrialRow, row.trial)
        if trial.ended is None:
            stands = _running(session, trial)
            if stands.stopped is not None:
                trial.ended, trial.stopped, trial.better = now, stands.stopped, stands.better


def _trial(session: Session, row: TrialRow) -> Trial:
    better = {"a": row.a, "b": row.b}.get(row.better or "")
    return Trial(
        a=row.a,
        b=row.b,
        began=row.began,
        ended=row.ended,
        difference=row.difference,
        planned=row.planned,
        stopped=row.stopped,
        better=better,
        now=_running(session, row),
    )


def _running(session: Session, row: TrialRow) -> Running:
    """Cases that belong to one fault are one case, closed once all that began is."""
    faults: dict[str, list[TrialCaseRow]] = defaultdict(list)
    for one in cases_of(session, row.number):
        faults[one.first].append(one)
    closed = []
    for parts in faults.values():
        if all(one.closed is not None for one in parts):
            at = max(one.closed for one in parts if one.closed is not None)
            first = parts[0]
            cost = sum(one.cost for one in parts)
            closed.append((at, Closed(first.arm, first.group, cost, any(one.is_severe for one in parts))))  # type: ignore[arg-type]
    closed.sort(key=lambda one: one[0])
    ground = Ground.model_validate(row.ground)
    return running(ground, row.difference, row.planned, [one for _, one in closed])


def _ground(session: Session, playbook_id: str, asked: AskTrial) -> Ground | None:
    """What the newest logged cases have cost, each by the edition that it was climbed by, else by the later one; read
    once for each version of the log, whatever difference is then asked about."""
    pair = (asked.a, asked.b)
    needs = Needs(tallies=playbook_id, editions=tuple((playbook_id, number) for number in pair))
    return cached(session, "ground", needs, lambda: _read_ground(session, playbook_id, asked))


def _read_ground(session: Session, playbook_id: str, asked: AskTrial) -> Ground | None:
    playbooks = {number: document(session, playbook_id, number) for number in (asked.a, asked.b)}
    usual = playbooks[max(asked.a, asked.b)]
    costs = []
    for logged in newest_cases(session, playbook_id, _LOOKED_AT):
        playbook = playbooks.get(logged.edition or 0, usual)
        costs.append((_group(playbook, logged), cost_of(playbook, logged)[0]))
    return ground_of(costs)


def _group(playbook: Playbook, case: Case) -> str:
    """The sort of unit of a case, by its facts; empty where they leave that open."""
    facts = {fact.id: case.facts.get(fact.id) for fact in telling_facts(playbook)}
    if not all(facts.values()):
        return ""
    for number, group in enumerate(unit_groups(playbook)):
        if any(dict(member) == facts for member in group.members):
            return str(number)
    return ""
