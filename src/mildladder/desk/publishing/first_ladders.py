"""Begin a playbook from the log of a symptom that has none: what was tried, proposed in the best order."""

import json
from collections import Counter, defaultdict
from datetime import datetime
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field
from sqlalchemy.orm import Session

from mildladder.core.advice.first_ladder import LEAST_CASES, first_ladder, tried_in_log
from mildladder.core.errors import Conflict, NotFound
from mildladder.core.model import Line, Playbook, Shape
from mildladder.core.model.base import Id
from mildladder.desk.evidence.odd_names import count_as, ids_of, in_words, median_of, title_of, with_step_ids
from mildladder.desk.jobs import queue as jobs
from mildladder.desk.jobs.kind import JobKind
from mildladder.desk.jobs.question import Question
from mildladder.desk.jobs.task import Task
from mildladder.desk.people import check_lead
from mildladder.desk.publishing.files import import_playbook
from mildladder.store import drafts
from mildladder.store import jobs as kept_jobs
from mildladder.store.database import Database
from mildladder.store.library import facts, library_ids
from mildladder.store.log import reading as store

__all__ = ["PROPOSING", "BeginFromLog", "FirstLadder", "SymptomWithout", "begin", "proposed", "without_playbook"]


class FirstLadderQuestion(Question):
    """The ladder that the log of a symptom proposes; its version is that of the tallies."""

    kind: ClassVar[str] = "proposing"
    ask: Literal["proposing"] = "proposing"
    version: int


class SymptomWithout(Shape):
    """A symptom that cases were logged of and that has no playbook. called: in words; cases: how many; is_enough: for a
    first ladder."""

    symptom: Id
    called: str
    cases: int
    is_enough: bool


class ProposedStep(Shape):
    """A step of a first ladder: its effort in minutes, and what the log says of it."""

    title: str
    minutes: float
    says: str


class FirstLadder(Shape):
    """A ladder that the log of a symptom proposes, in order. cases: of the symptom."""

    symptom: Id
    cases: int
    steps: tuple[ProposedStep, ...]


class BeginFromLog(Shape):
    """What the log does not know of a symptom. says: what callers say; team: who takes what the ladder leaves."""

    title: Line
    says: Annotated[str, Field(max_length=300)] = ""
    team: Annotated[str, Field(max_length=300)] = ""


class _Made(Shape):
    """names: of steps whose logged names cannot be ids, the name by id."""

    playbook: Playbook
    names: dict[str, str]
    cases: int


def without_playbook(session: Session) -> tuple[SymptomWithout, ...]:
    """The symptoms of logged cases that have no playbook, those with most cases first."""
    known = set(drafts.playbook_ids(session))
    found = [(name, sum(store.ends(session, name).values())) for name in store.symptoms(session) if name not in known]
    return tuple(
        SymptomWithout(symptom=name, called=in_words(name), cases=cases, is_enough=cases >= LEAST_CASES)
        for name, cases in sorted(found, key=lambda one: (-one[1], one[0]))
        if cases
    )


def proposed(database: Database, workers: jobs.Workers, symptom: str, now: datetime) -> FirstLadder | jobs.Waiting:
    """The ladder that the log of a symptom proposes. Raises NotFound for a symptom without
    cases, Conflict for one that has a playbook, and BadInput where too little was logged."""
    with database.reading() as session:
        _refuse_known(session, symptom)
        if not sum(store.ends(session, symptom).values()):
            raise NotFound(f"no case of '{symptom}' is logged")
        version = store.version_of(session, symptom)
    asked = FirstLadderQuestion(subject=symptom, version=version)
    result = jobs.answer_of(database, workers, asked, now)
    if isinstance(result, jobs.Waiting):
        return result
    made = _Made.model_validate_json(result)
    return FirstLadder(
        symptom=symptom,
        cases=made.cases,
        steps=tuple(
            ProposedStep(
                title=made.playbook.step(rung.step).title,
                minutes=made.playbook.step(rung.step).effort.hands_on,
                says=rung.note or "",
            )
            for rung in made.playbook.ladder
        ),
    )


def _propose(task: Task[FirstLadderQuestion]) -> None:
    """Work a first ladder out. Raises Stopped, and BadInput where too little was logged."""
    symptom = task.subject
    with task.database.reading() as session:
        tallies = store.keyed_tallies(session, symptom)
        minutes = {step: median_of(bins) for step, bins in store.step_minutes(session, symptom).items()}
        logged = {one.step for tally in tallies for one in tally.signature.attempts}
        ids = ids_of(logged, library_ids(session))
        titles = {step: title_of(session, step) for step in logged}
    by_id = {ids[step]: step for step in logged}
    renamed = [with_step_ids(tally, ids) for tally in tallies]
    tried = tried_in_log(
        renamed, {ids[step]: one for step, one in minutes.items() if step in ids}, lambda step: titles[by_id[step]]
    )
    task.check()
    playbook = first_ladder(symptom, symptom, symptom, renamed, tried, task.check)
    made = _Made(
        playbook=playbook,
        names={one.id: by_id[one.id] for one in playbook.steps if by_id[one.id] != one.id},
        cases=sum(tally.count for tally in tallies),
    )
    with task.database.writing(is_durable=False) as session:
        task.end(session, made.model_dump_json(by_alias=True, exclude_unset=True))


# Somebody waits for a first ladder, and would else wait until every symptom of the desk has been looked through.
PROPOSING = JobKind(
    name=FirstLadderQuestion.kind, work={FirstLadderQuestion: _propose}, is_newest_first=True, niceness=5
)


def begin(session: Session, symptom: str, about: BeginFromLog, who: int, now: datetime) -> str:
    """Make the playbook of a symptom from what its log last proposed; its id.

    Steps of the library come with its texts; logged names that are no ids count as the steps made of them; what the
    cases know of units is asked. Raises NotFound where nothing was proposed, Conflict for a symptom that has a
    playbook, and NotTheirs for anybody but a lead.
    """
    check_lead(session, who)
    _refuse_known(session, symptom)
    number = kept_jobs.last_done(session, FirstLadderQuestion.kind, symptom, {})
    result = kept_jobs.job(session, number).result if number is not None else None
    if result is None:
        raise NotFound(f"nothing was proposed for '{symptom}'; look at what its log says first")
    made = _Made.model_validate_json(result)
    data = json.loads(made.playbook.model_dump_json(by_alias=True, exclude_unset=True))
    data |= {"title": about.title, "symptom": {"says": about.says.strip() or about.title}}
    data["facts"] = _facts(session, symptom)
    if about.team.strip():
        data["hand_offs"] = [{"id": "rest", "title": about.team.strip(), "default": True}]
    import_playbook(session, Playbook.model_validate(data), who, now, "library", None)
    for step, name in made.names.items():
        count_as(session, symptom, name, step, who, now)
    return symptom


def _facts(session: Session, symptom: str) -> list[dict[str, Any]]:
    """What the desk asks about units and these cases know, choices shared as the cases have them."""
    known, found = facts(session), []
    seen: dict[str, Counter[str]] = defaultdict(Counter)
    for tally in store.keyed_tallies(session, symptom):
        for fact, value in tally.facts.items():
            seen[fact][value] += tally.count
    for name in sorted(seen.keys() & known.keys()):
        asked, counts = known[name], seen[name]
        one: dict[str, Any] = {"id": name, "ask": asked.ask, "type": asked.type}
        if asked.type == "choice":
            total = counts.total()
            one["choices"] = {value: counts[value] / total for value in dict.fromkeys((*asked.choices, *counts))}
        found.append(one)
    return found


def _refuse_known(session: Session, symptom: str) -> None:
    if symptom in drafts.playbook_ids(session):
        raise Conflict(f"'{symptom}' has a playbook; its ladder is worked on there")
