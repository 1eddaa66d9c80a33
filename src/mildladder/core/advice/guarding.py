"""Harm that the cases show and nothing eases: a safeguard that the desk has, or one that is still to be named."""

from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence

from mildladder.core.advice.judging import Judge
from mildladder.core.advice.nudge import Change
from mildladder.core.evidence.counts import HarmCount
from mildladder.core.evidence.rates import is_more_than
from mildladder.core.ladder.walk import rungs_of
from mildladder.core.model import HazardKind, Playbook, Rung, Step
from mildladder.core.model.outcomes import HARMS

__all__ = ["safeguards_of", "unguarded"]

_GUARD_MINUTES, _EASED_TO = 2.0, 0.1


def safeguards_of(playbook: Playbook) -> Iterator[tuple[str, HazardKind, Step]]:
    """Which safeguard of a playbook eases what harm of which step."""
    for step in playbook.steps:
        for hazard in step.hazards:
            if hazard.eased_by is not None:
                guard = playbook.step(hazard.eased_by)
                if guard.kind == "safeguard":
                    yield step.id, hazard.kind, guard


def unguarded(
    judge: Judge,
    harms: Mapping[str, HarmCount],
    judged: Playbook,
    elsewhere: Mapping[tuple[str, HazardKind], Sequence[Step]] | None = None,
) -> Iterator[Change]:
    """Hazards that no safeguard eases, though their harm is seen more often than was thought. judged: the draft with
    the lead's own chances; elsewhere: what eases the same step's harm in other playbooks, by step and kind. What eases
    another step's there is for other units, more often than not."""
    own: dict[HazardKind, dict[str, Step]] = defaultdict(dict)
    for _, kind, guard in safeguards_of(judged):
        own[kind][guard.id] = guard
    for step in judge.draft.steps:
        told = harms.get(step.id)
        if told is None:
            continue
        for number, hazard in enumerate(judged.step(step.id).hazards):
            seen = told.seen.get(hazard.kind, 0)
            if hazard.eased_by is not None or not is_more_than(hazard.chance, seen, told.asked):
                continue
            why = f"After {seen} of {told.asked} times {HARMS[hazard.kind].was_seen}; no step above it eases that"
            there = {one.id for one in judged.steps}
            others = [one for one in (elsewhere or {}).get((step.id, hazard.kind), ()) if one.id not in there]
            guards = [*own[hazard.kind].values(), *others]
            changes = [one for guard in guards if (one := _guarded_by(judge, judged, step, number, guard, why))]
            yield from changes or [_to_be_named(judge.draft, step, number, why)]


def _guarded_by(judge: Judge, judged: Playbook, step: Step, number: int, guard: Step, why: str) -> Change | None:
    """The step below a safeguard that the desk has; None where that cannot simply be put above it."""
    ladder = judge.draft.ladder
    place = next((at for at, rung in enumerate(ladder) if step.id in {one.step for one in rungs_of((rung,))}), None)
    if place is None or guard.id == step.id:
        return None
    stands = next((at for at, rung in enumerate(ladder) if rung.step == guard.id), None)
    if stands is None:
        ladder = (*ladder[:place], Rung(step=guard.id), *ladder[place:])
    elif stands > place:
        moved = ladder[stands]
        if moved.on or moved.trial or moved.keep or moved.pin:
            return None
        ladder = (*ladder[:place], moved, *ladder[place:stands], *ladder[stands + 1 :])
    is_new = all(one.id != guard.id for one in judge.draft.steps)
    after = _with(judge.draft, _eased(step, number, guard), *([guard] if is_new else []))
    return Change(
        "safeguard",
        says=f"Let “{guard.title}” stand above “{step.title}” and ease its harm",
        why=why,
        playbook=after.model_copy(update={"ladder": ladder}),
        touches=frozenset({place}),
        steps=(step.id, guard.id),
        ladder=ladder,
        adds=(_eased(judged.step(step.id), number, guard), *([guard] if is_new else [])),
    )


def _eased(step: Step, number: int, guard: Step) -> Step:
    eased = step.hazards[number].model_copy(update={"eased_by": guard.id, "eased_to": _EASED_TO})
    return step.model_copy(update={"hazards": (*step.hazards[:number], eased, *step.hazards[number + 1 :])})


def _to_be_named(draft: Playbook, step: Step, number: int, why: str) -> Change:
    """The step with a safeguard that somebody has yet to name: two minutes, and a tenth of the harm is left."""
    hazard = step.hazards[number]
    eased = hazard.model_copy(update={"chance": hazard.chance * _EASED_TO})
    effort = step.effort.model_copy(update={"hands_on": step.effort.hands_on + _GUARD_MINUTES})
    hazards = (*step.hazards[:number], eased, *step.hazards[number + 1 :])
    changed = step.model_copy(update={"hazards": hazards, "effort": effort})
    says = f"Name a safeguard for “{step.title}”"
    return Change("safeguard", says, why, _with(draft, changed), frozenset(), (step.id,))


def _with(draft: Playbook, changed: Step, *more: Step) -> Playbook:
    steps = tuple(changed if step.id == changed.id else step for step in draft.steps)
    return draft.model_copy(update={"steps": (*steps, *more)})
