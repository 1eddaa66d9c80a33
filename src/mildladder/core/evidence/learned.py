"""The lead's guesses beside what the cases say of them (evidence, section 6)."""

import math
from collections.abc import Iterator, Mapping, Sequence
from typing import Literal

import numpy as np
from scipy.special import bdtrik, betaincinv

from mildladder.core.evidence.estimate import Estimated, share_learned, span
from mildladder.core.evidence.rates import Rate, StepEvidence
from mildladder.core.figures.judgement import elapsed_minutes
from mildladder.core.ladder.causes import FloatArray, all_causes, finding_chances
from mildladder.core.ladder.saying import condition_in_words, told_in_words
from mildladder.core.ladder.syntax import Compare
from mildladder.core.model import Fact, Playbook, Retest, Shape, Step
from mildladder.core.model.base import Id
from mildladder.core.tally.counts import minutes_of

__all__ = ["Guess", "LearnedMinutes", "guesses_of", "medians", "minutes_of_step", "taking"]

_LEAST_LEARNED = 0.5
_DONE_CASES = 4
# Any step fails to be carried out now and then; by less nobody would change anything.
_LEAST_DONE = 0.05
_MINUTES_SURE = 0.999
_TIMES_OFF = 1.5

What = Literal["ends", "finds", "done", "cause", "unit"]


class Guess(Shape):
    """One of the lead's figures, and what the cases make of it.

    what: that a step ends a cause, finds something where a cause is behind it, can be carried out at all, that a cause
    is behind the symptom, or that a unit is such; says: the same in titles. variant: of the step, by place; about: the
    cause, or the fact of units, and `value` of that. judged: the lead's figure; learned: how much of the prior doubt
    the cases took away; is_contradicted: it lies outside what they allow.
    """

    what: What
    step: Id | None
    variant: int | None
    about: Id | None
    value: str | None = None
    says: str
    judged: float
    seen: Rate
    learned: float
    is_contradicted: bool


class LearnedMinutes(Shape):
    """How long a step takes, the test after it included: the judged minutes on the clock, and the median of the
    attempts with its 99.9 % interval by order statistics. is_off: the interval lies outside two thirds to one and a
    half of the judged."""

    judged: float
    median: float
    low: float
    high: float
    tries: int
    is_off: bool


def guesses_of(made: Estimated, counts: Mapping[str, StepEvidence]) -> tuple[Guess, ...]:
    """Every guess that the cases speak of: causes, sorts of units, then by step what it ends, finds, and whether it can
    be done."""
    model = made.model
    before = made.posterior.prior_draws(1000, 0)
    found: list[Guess] = []
    if made.estimate.refused:
        return ()
    for one in made.estimate.causes:
        found.append(_guess("cause", one.judged, one.share, one.learned, about=one.cause, says=one.title))
    for fact in model.playbook.facts:
        found += _of_units(made, fact, before.shares)
    for step in model.playbook.steps:
        found += _of_cures(made, step, before.cures)
        found += _of_findings(made, step)
        if (row := counts.get(step.id)) is not None and (done := _of_done(step, row)) is not None:
            found.append(done)
    return tuple(found)


def _guess(
    what: What,
    judged: float,
    seen: Rate,
    learned: float,
    step: str | None = None,
    variant: int | None = None,
    about: str | None = None,
    says: str = "",
) -> Guess:
    is_outside = not (seen.low or 0.0) <= judged <= (1.0 if seen.high is None else seen.high)
    return Guess(
        what=what,
        step=step,
        variant=variant,
        about=about,
        says=says,
        judged=judged,
        seen=seen,
        learned=learned,
        is_contradicted=is_outside and learned >= _LEAST_LEARNED,
    )


def _of_units(made: Estimated, fact: Fact, before: FloatArray) -> Iterator[Guess]:
    """How common each value is of a fact that tells units apart."""
    model = made.model
    seen, prior = model.spread_under(fact.id, made.chances.shares), model.spread_under(fact.id, before)
    if seen is None or prior is None or len(model.groups) == 1:
        return
    for value, figure in seen.items():
        learned = share_learned(figure, prior[value])
        says = condition_in_words(Compare(fact.id, "is", (value,)), model.playbook)
        found = _guess("unit", fact.spread[value], span(figure), learned, about=fact.id, says=says)
        yield found.model_copy(update={"value": value})


def _of_cures(made: Estimated, step: Step, before: FloatArray) -> list[Guess]:
    model = made.model
    refused = {one.step for one in made.estimate.steps if one.refused}
    found = []
    for number, source in enumerate(model.sources):
        if source.step != step.id or step.id in refused:
            continue
        for at, cause in enumerate(model.causes):
            judged = float(model.listed[number, at])
            if np.isnan(judged):
                continue
            figure = made.chances.cures[number, at]
            learned = share_learned(figure, before[number, at])
            where = (
                ""
                if source.variant is None
                else f", where {told_in_words(step.varies[source.variant].when, model.playbook)}"
            )
            says = f"ends {cause.title}{where}"
            found.append(_guess("ends", judged, span(figure), learned, step.id, source.variant, cause.id, says))
    return found


def _of_findings(made: Estimated, step: Step) -> list[Guess]:
    if len(step.findings) < 2:
        return []
    model = made.model
    place, _ = model.found_at[step.id, step.findings[0].id]
    judged = finding_chances(step, all_causes(model.playbook))
    own, prior = made.chances.findings[place], model.findings[place]
    found = []
    for at, finding in enumerate(step.findings):
        for number, cause in enumerate(model.causes):
            mean = prior.table[at, number]
            variance = mean * (1 - mean) / (prior.strength + 1)
            learned = max(0.0, 1 - float(own[at, number].var()) / variance)
            seen = span(own[at, number])
            says = f"finds {finding.title}, if it is {cause.title}"
            found.append(_guess("finds", float(judged[at, number]), seen, learned, step.id, about=cause.id, says=says))
    return found


def _of_done(step: Step, row: StepEvidence) -> Guess | None:
    """Whether it can be carried out: (judged · 4 + carried out) / (4 + carried out + could not)."""
    carried = row.tried + row.together + row.done + row.took_unknown
    total = carried + row.could_not
    if total < 1 or (row.could_not == 0 and step.done == 1):
        return None
    a, b = _DONE_CASES * step.done + carried, _DONE_CASES * (1 - step.done) + row.could_not
    seen = Rate(
        mean=a / (a + b),
        low=float(betaincinv(a, b, 0.025)) if a > 0 and b > 0 else a / (a + b),
        high=float(betaincinv(a, b, 0.975)) if a > 0 and b > 0 else a / (a + b),
    )
    made = _guess("done", step.done, seen, total / (total + _DONE_CASES), step.id, says="can be carried out")
    is_far = abs(a / (a + b) - step.done) >= _LEAST_DONE
    return made.model_copy(update={"is_contradicted": made.is_contradicted and is_far})


def minutes_of_step(step: Step, bins: Mapping[str, int], retest: Retest | None) -> LearnedMinutes | None:
    """The median of the logged minutes of a step, beside the judged ones; None where too few were logged to say, and of
    a search, whose minutes hold as many rounds as it took.

    retest: trying the original action again, which the minutes of a tested step hold too; None where it costs nothing.
    """
    counts = sorted((minutes_of(value), count) for value, count in bins.items())
    total = sum(count for _, count in counts)
    places = _median_ranks(total)
    if places is None or step.search is not None:
        return None
    low, high = (_ranked(counts, rank) for rank in places)
    judged = elapsed_minutes(step.effort) + retest_minutes(step, retest)
    return LearnedMinutes(
        judged=judged,
        median=_ranked(counts, (total + 1) // 2),
        low=low,
        high=high,
        tries=total,
        is_off=high < judged / _TIMES_OFF or low > judged * _TIMES_OFF,
    )


def medians(playbook: Playbook, bins: Mapping[str, Mapping[str, int]]) -> dict[str, float]:
    """The median minutes on the clock of every step of which enough were logged to say."""
    found = {step.id: minutes_of_step(step, bins.get(step.id, {}), playbook.retest) for step in playbook.steps}
    return {step: one.median for step, one in found.items() if one is not None}


def taking(step: Step, minutes: float, retest: Retest | None) -> Step:
    """The step taking so many minutes on the clock, the test after it left out, shared as they were judged."""
    tested = retest_minutes(step, retest)
    own, took = elapsed_minutes(step.effort), max(minutes - tested, 0.0)
    times = took / own if own > 0 else 0.0
    effort = step.effort
    changed = effort.model_copy(
        update={
            "hands_on": effort.hands_on * times if own > 0 else took,
            "wait": effort.wait * times,
            "travel": effort.travel * times,
        }
    )
    return step.model_copy(update={"effort": changed})


def retest_minutes(step: Step, retest: Retest | None) -> float:
    """What trying the original action adds to the minutes of a step."""
    return retest.hands_on + retest.wait if step.is_tested and retest is not None else 0.0


def _median_ranks(total: int) -> tuple[int, int] | None:
    """The ranks, from 1, between which the median lies with 99.9 %; None when no two do."""
    below = math.ceil(bdtrik((1 - _MINUTES_SURE) / 2, total, 0.5)) if total else 0
    return (below, total + 1 - below) if below >= 1 else None


def _ranked(counts: Sequence[tuple[float, int]], rank: int) -> float:
    seen = 0
    for minutes, count in counts:
        seen += count
        if seen >= rank:
            return minutes
    return counts[-1][0]
