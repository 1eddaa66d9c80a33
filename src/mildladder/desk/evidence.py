"""What the log shows of each step of one symptom."""

from datetime import date
from typing import get_args

from sqlalchemy.orm import Session

from mildladder.core.evidence.rates import Rate, StepEvidence, count_steps, is_more_than, no_evidence, raw_rate
from mildladder.core.ladder.walk import rows_of
from mildladder.core.model import (
    HazardKind,
    Rung,
    Shape,
    Step,
    StepKind,
)
from mildladder.desk.editions import document
from mildladder.desk.settings import return_window
from mildladder.store.log import reading as store

__all__ = ["Evidence", "EvidenceRow", "HarmSeen", "evidence"]


class HarmSeen(Shape):
    """Harm of one kind that came of a step, beside what the draft judges.

    `judged`: the chance that the step names, nothing eased, None where it names no such hazard; `eased_by`: the
    safeguard that it names. `asked`: attempts after which harm was asked about; `rate`: seen out of asked. `is_more`:
    more than luck explains, were the chance as judged.
    """

    kind: HazardKind
    judged: float | None
    eased_by: str | None
    asked: int
    seen: int
    rate: Rate
    is_more: bool


class EvidenceRow(Shape):
    """One step's counts, with its first place on the draft's ladder, such as 3 or 3a (None: not on it), and its title
    (None: unknown here)."""

    step: str
    title: str | None
    kind: StepKind | None
    label: str | None
    counts: StepEvidence
    harms: tuple[HarmSeen, ...]


class Evidence(Shape):
    """The evidence of one symptom, in the order of its ladder, then what is tried off it."""

    playbook: str
    title: str
    cases: int
    return_window: int
    rows: tuple[EvidenceRow, ...]


def evidence(session: Session, playbook_id: str, today: date) -> Evidence:
    """The evidence of one symptom. Raises NotFound."""
    playbook = document(session, playbook_id, "draft")
    window = return_window(session)
    counts = store.of_version(
        session, playbook_id, ("steps", today, window),
        lambda: count_steps(store.tallies(session, playbook_id), today, window),
    )  # fmt: skip
    labels: dict[str, str] = {}
    for row in rows_of(playbook):
        if isinstance(row.entry, Rung):
            labels.setdefault(row.entry.step, row.label)
    steps = {step.id: step for step in playbook.steps}
    order = [*labels, *sorted(set(counts) - set(labels))]
    harms = store.of_version(session, playbook_id, ("harms",), lambda: store.harm_counts(session, playbook_id))
    rows = tuple(
        EvidenceRow(
            step=step,
            title=steps[step].title if step in steps else None,
            kind=steps[step].kind if step in steps else None,
            label=labels.get(step),
            counts=counts.get(step) or no_evidence(step),
            harms=_harms(steps.get(step), harms.get(step)),
        )
        for step in order
    )
    total = sum(store.ends(session, playbook_id).values())
    return Evidence(playbook=playbook_id, title=playbook.title, cases=total, return_window=window, rows=rows)


def _harms(step: Step | None, count: store.HarmCount | None) -> tuple[HarmSeen, ...]:
    """One for each kind of harm that the step names or that was seen, once anybody was asked."""
    if count is None:
        return ()
    hazards = {hazard.kind: hazard for hazard in step.hazards} if step else {}
    kinds = [*hazards, *(kind for kind in get_args(HazardKind) if kind in count.seen and kind not in hazards)]
    return tuple(
        HarmSeen(
            kind=kind,
            judged=hazards[kind].chance if kind in hazards else None,
            eased_by=hazards[kind].eased_by if kind in hazards else None,
            asked=count.asked,
            seen=count.seen.get(kind, 0),
            rate=raw_rate(count.seen.get(kind, 0), count.asked),
            is_more=is_more_than(
                hazards[kind].chance if kind in hazards else 0.0, count.seen.get(kind, 0), count.asked
            ),
        )
        for kind in kinds
    )
