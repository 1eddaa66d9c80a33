"""A first ladder from the log: what people tried for a symptom that has no playbook, or a poor one, in the best order
that their cases allow (evidence, section 9; builder, Start from nothing)."""

from collections import Counter
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

from mildladder.core.errors import BadInput
from mildladder.core.evidence.estimate import Estimated, StepEstimate, estimate
from mildladder.core.evidence.learnable import learnable
from mildladder.core.evidence.records import KeyedTally, is_counted, records_of
from mildladder.core.model import FORMAT, SOMETHING_ELSE, Playbook
from mildladder.core.ordering.best import best_order
from mildladder.core.tally.signature import Signature

__all__ = ["LEAST_CASES", "USUAL_MINUTES", "WORTH_NAMING", "Tried", "first_ladder", "tried_in_log"]

LEAST_CASES = 30
_LEAST_TRIES, _MOST_STEPS = 10, 12
# Nobody has named any cause: each step stands for whatever it ends best, and may end some of what others end.
_OWN, _OTHERS = 0.8, 0.1
# What is ended so seldom is not written down.
WORTH_NAMING = 0.03
USUAL_MINUTES = 3.0


@dataclass(frozen=True)
class Tried:
    """A step that people tried. id: as the log has it; title: as one reads it; minutes: the median of its tries, None
    where nobody noted any; tried, could_not: how often; resolved: how often it ended the fault."""

    id: str
    title: str
    minutes: float | None
    tried: int
    resolved: int
    could_not: int


def tried_in_log(
    tallies: Iterable[KeyedTally], minutes: Mapping[str, float], title: Callable[[str], str]
) -> tuple[Tried, ...]:
    """The steps that were tried often enough to say anything, the most tried first. minutes: medians by step."""
    tried: Counter[str] = Counter()
    resolved: Counter[str] = Counter()
    could_not: Counter[str] = Counter()
    for tally in tallies:
        if tally.is_double:
            continue
        for one in tally.signature.attempts:
            if one.before:
                continue
            tried[one.step] += tally.count * is_counted(one)
            resolved[one.step] += tally.count * (one.result == "fixed")
            could_not[one.step] += tally.count * (one.result == "could-not")
    return tuple(
        Tried(step, title(step), minutes.get(step), count, resolved[step], could_not[step])
        for step, count in sorted(tried.items(), key=lambda one: (-one[1], one[0]))[:_MOST_STEPS]
        if count >= _LEAST_TRIES
    )


def first_ladder(
    symptom: str,
    title: str,
    says: str,
    tallies: Sequence[KeyedTally],
    tried: Sequence[Tried],
    check: Callable[[], None] = lambda: None,
) -> Playbook:
    """A playbook of what was tried, in the best order; each figure a guess of the log's, and marked as one.

    Raises BadInput where too few cases or steps say anything.
    """
    if not tried:
        raise BadInput(f"no step was tried {_LEAST_TRIES} times in its cases, so there is nothing to order yet")
    plain = _playbook(symptom, title, says, tried, {}, {})
    known = {one.id for one in tried}
    own = [replace(one, facts={}, signature=_only(one, known)) for one in tallies]
    records, model = records_of(own, learnable(plain))
    if records.cases < LEAST_CASES:
        raise BadInput(f"its log has {records.cases} cases that say anything; {LEAST_CASES} are needed")
    made = estimate(records, model, {one.id: one.tried for one in tried}, {}, check=check)
    learned = _playbook(symptom, title, says, tried, _weights(made), _fixes(made), _estimates(made))
    order = best_order(learned).order
    return learned.model_copy(update={"ladder": tuple(learned.ladder[place] for place in order)})


def _only(tally: KeyedTally, known: set[str]) -> Signature:
    """The signature with those attempts alone that the ladder speaks of: what another step ended, these did not."""
    kept = tuple(one for one in tally.signature.attempts if one.step in known)
    return tally.signature.model_copy(update={"attempts": kept})


def _playbook(
    symptom: str,
    title: str,
    says: str,
    tried: Sequence[Tried],
    weights: Mapping[str, float],
    fixes: Mapping[str, Mapping[str, float]],
    estimates: Mapping[str, StepEstimate] | None = None,
) -> Playbook:
    """Each step with a cause of its own. Left out, weights and fixes are what one would guess of steps unknown."""
    cause = _causes(one.id for one in tried)
    return Playbook.model_validate(
        {
            "format": FORMAT,
            "id": symptom,
            "title": title,
            "symptom": {"says": says},
            "causes": [
                {
                    "id": cause[one.id],
                    "title": f"What “{one.title}” ends"[:300],
                    "layer": "outside",
                    "weight": round(weights.get(cause[one.id], 1.0), 4),
                }
                for one in tried
            ],
            "steps": [
                {
                    "id": one.id,
                    "title": one.title[:300],
                    "kind": "fix",
                    "effort": {"hands_on": round(one.minutes or USUAL_MINUTES, 1)},
                    "done": round((one.tried + 4) / (one.tried + one.could_not + 4), 3),
                    "fixes": fixes.get(
                        one.id, {own: _OWN if other == one.id else _OTHERS for other, own in cause.items()}
                    ),
                }
                for one in tried
            ],
            "ladder": [
                {"step": one.id, "note": _note(one, estimates[one.id])} if estimates else {"step": one.id}
                for one in tried
            ],
        }
    )


def _causes(steps: Iterable[str]) -> dict[str, str]:
    """The cause that each step stands for."""
    return {step: f"cause-{number}" for number, step in enumerate(steps, start=1)}


def _weights(made: Estimated) -> dict[str, float]:
    return {one.cause: one.share.mean or 0.0 for one in made.estimate.causes}


def _fixes(made: Estimated) -> dict[str, dict[str, float]]:
    """By step the chances that are worth naming, its own always."""
    mean = made.chances.mean().cures[..., 0]
    own = _causes(step.id for step in made.model.playbook.steps)
    found: dict[str, dict[str, float]] = {}
    for number, source in enumerate(made.model.sources):
        found[source.step] = {
            cause.id: round(float(mean[number, at]), 3)
            for at, cause in enumerate(made.model.causes)
            if cause.id != SOMETHING_ELSE and (mean[number, at] >= WORTH_NAMING or cause.id == own[source.step])
        }
    return found


def _estimates(made: Estimated) -> dict[str, StepEstimate]:
    return {one.step: one for one in made.estimate.steps}


def _note(one: Tried, estimate_: StepEstimate) -> str:
    """What the log says of a step, and that nobody has looked at it yet."""
    first = estimate_.first
    likely = (
        f"; if tried first it ends about {first.mean:.0%} ({first.low:.0%} to {first.high:.0%})".replace("%", "\u00a0%")
        if first.mean is not None and first.low is not None and first.high is not None
        else ""
    )
    took = "" if one.minutes is not None else ", and nobody noted how long it takes"
    return f"A guess from the log: tried {one.tried} times, ended {one.resolved}{likely}{took}."
