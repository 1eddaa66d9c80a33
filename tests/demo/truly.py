"""What is really so of a simulated symptom, as a playbook that guesses nothing: what is estimated, and every change that
is said to be wanted, can be held against it."""

from collections.abc import Iterator, Mapping, Sequence
from itertools import product

import numpy as np

from mildladder.core.advice.nudge import Nudge
from mildladder.core.errors import BadInput
from mildladder.core.evidence.counts import DoneCount, HarmCount
from mildladder.core.evidence.estimate import first
from mildladder.core.evidence.forward import Told
from mildladder.core.evidence.learnable import Learnable, learnable
from mildladder.core.evidence.posterior import Chances
from mildladder.core.evidence.taught import taught_playbook, with_units
from mildladder.core.figures.forecast import forecast
from mildladder.core.ladder.causes import finding_chances
from mildladder.core.ladder.units import fact_types, on_unit, variant_on
from mildladder.core.model import HandOffRef, Likelier, Playbook, Step
from mildladder.core.model.step import Variant
from mildladder.core.ordering.best import objective
from mildladder.demo.faults import Fault
from mildladder.demo.truth import Truth

__all__ = ["Truly"]

_MONTHS = 18
_MANY = 1_000_000
_GUARD_PASSES = 0.97


class Truly:
    """A symptom of which everything is known."""

    def __init__(self, playbook: Playbook, truth: Truth) -> None:
        self.truth = truth
        apart = _told_apart(playbook, truth)
        self.model = learnable(apart)
        self.chances = _chances(apart, truth, self.model)
        # What no fact tells apart for the lead is told apart here: the guesses of such steps are the same throughout.
        known = taught_playbook(self.model, self.chances, apart, counted_of(playbook, truth))
        self.playbook = with_units(self.model, self.chances, known)
        self.rate = playbook.policy.rate

    def first(self, step: str) -> float:
        """How often a step really ends the fault if tried first."""
        return float(first(self.model, step, self.chances)[0])

    def cost(self, ladder: Sequence[object], adds: Sequence[Step] = ()) -> float:
        """What a case really costs by a ladder, in effort and harm."""
        steps = {step.id: step for step in self.playbook.steps}
        steps |= {step.id: _as_it_is(step, steps.get(step.id)) for step in adds}
        changed = self.playbook.model_copy(update={"ladder": tuple(ladder), "steps": tuple(steps.values())})
        return objective(forecast(changed), self.rate)

    def spares(self, nudge: Nudge) -> float:
        """What a change of the ladder really spares a case. Raises BadInput where it makes no ladder."""
        if nudge.ladder is None:
            raise BadInput("the ladder stays as it is")
        adds = [Step.model_validate(one) for one in nudge.adds]
        return self.cost(self.playbook.ladder) - self.cost(nudge.ladder, adds)


def counted_of(playbook: Playbook, truth: Truth) -> Told:
    """How often each step can really be carried out, and does harm, as if counted without end."""
    could_not = {step.id: _could_not(step, truth) for step in playbook.steps}
    harms = {
        step.id: {one.kind: truth.harms.get(step.id, {}).get(one.kind, one.chance) for one in step.hazards}
        for step in playbook.steps
    }
    return Told(
        done={step: DoneCount(round(_MANY * (1 - share)), round(_MANY * share)) for step, share in could_not.items()},
        harms={
            step: HarmCount(_MANY, {kind: round(_MANY * chance) for kind, chance in seen.items()})
            for step, seen in harms.items()
        },
    )


def _could_not(step: Step, truth: Truth) -> float:
    """Nor can it be where a guard or the caller says no."""
    can = 1 - truth.could_not.get(step.id, 1 - step.done)
    for guard in step.guard:
        can *= 1.0 if isinstance(guard.else_, HandOffRef) else _GUARD_PASSES
    return 1 - can


def _as_it_is(said: Step, known: Step | None) -> Step:
    """A step as a change has it, with what is really so of it: the safeguard that it names is new, its harm is not."""
    if known is None:
        return said
    kept = {hazard.kind: hazard.chance for hazard in known.hazards}
    hazards = tuple(one.model_copy(update={"chance": kept.get(one.kind, one.chance)}) for one in said.hazards)
    return known.model_copy(update={"hazards": hazards})


def _told_apart(playbook: Playbook, truth: Truth) -> Playbook:
    """The playbook with a sort of unit for everything on which its truth hangs."""
    causes = list(playbook.causes)
    for fact in truth.given_cause:
        spread = next(one.spread for one in playbook.facts if one.id == fact)
        alike = tuple(Likelier(when=f'{fact} is "{value}"', times=1.0) for value in spread)
        causes[0] = causes[0].model_copy(update={"likelier": (*causes[0].likelier, *alike)})
    steps = [_told_apart_by_unit(playbook, step, truth) for step in playbook.steps]
    return playbook.model_copy(update={"causes": tuple(causes), "steps": tuple(steps)})


def _told_apart_by_unit(playbook: Playbook, step: Step, truth: Truth) -> Step:
    """The step with a variant for each sort of unit of which its truth speaks, otherwise as it is on that sort."""
    named = [where for name in truth.cures for own, _, where in [name.partition("@")] if own == step.id and where]
    variants = []
    for fact, _, value in (where.partition("=") for where in named):
        number = variant_on(step, {fact: value}, fact_types(playbook))
        before = step.varies[number] if number is not None else None
        own = {"when": f'{fact} is "{value}"', "fixes": before.fixes if before and before.fixes else step.fixes}
        variants.append((before or Variant(when=own["when"])).model_copy(update=own))
    return step.model_copy(update={"varies": (*variants, *step.varies)})


def _chances(playbook: Playbook, truth: Truth, model: Learnable) -> Chances:
    """The true chances as one set, over all of the period."""
    places = {cause.id: place for place, cause in enumerate(model.causes)}
    both = np.zeros((len(model.groups), len(model.causes)))
    ended, cases = np.zeros((2, len(model.sources), len(model.causes)))
    types = fact_types(playbook)
    for cause, facts, share in _faults(playbook, truth):
        (group,) = model.open_groups(facts)
        both[group, places[cause]] += share
        fault = Fault(playbook.id, truth, cause, facts, None)
        for step in model.steps.values():
            source = model.source(step.id, group, facts)
            ended[source, places[cause]] += share * fault.cure_chance(playbook, on_unit(step, facts, types))
            cases[source, places[cause]] += share
    of_group = both.sum(axis=1)
    return Chances(
        shares=of_group[:, None],
        pooled=both.sum(axis=0)[:, None],
        causes=(both / of_group[:, None])[..., None],
        cures=(ended / np.maximum(cases, 1e-12))[..., None],
        findings=tuple(finding_chances(playbook.step(one.step), model.causes)[..., None] for one in model.findings),
        clears=np.array([truth.self_clears]),
    )


def _faults(playbook: Playbook, truth: Truth) -> Iterator[tuple[str, dict[str, str], float]]:
    """Every cause on every sort of unit, with its share of all faults."""
    whole = sum(truth.causes.values())
    facts = {fact.id: fact.spread for fact in playbook.facts if fact.spread}
    for cause, weight in truth.causes.items():
        own = [_values(truth, fact, cause, spread) for fact, spread in facts.items()]
        for values in product(*own):
            share = float(np.prod([one[value] for one, value in zip(own, values, strict=True)]))
            if share > 0:
                yield cause, dict(zip(facts, values, strict=True)), share * weight / whole


def _values(truth: Truth, fact: str, cause: str, spread: Mapping[str, float]) -> Mapping[str, float]:
    if fact in truth.rollouts:
        return _on_the_whole(truth.rollouts[fact])
    if fact in truth.given_cause:
        return truth.given_cause[fact].get(cause, truth.given_cause[fact]["*"])
    return {value: share / sum(spread.values()) for value, share in spread.items()}


def _on_the_whole(rollout: Mapping[int, Mapping[str, float]]) -> dict[str, float]:
    """Shares of a fact's values over all months."""
    of_month = [rollout[max(since for since in rollout if since <= month)] for month in range(_MONTHS)]
    names = sorted({value for shares in of_month for value in shares})
    return {value: sum(shares.get(value, 0.0) for shares in of_month) / _MONTHS for value in names}
