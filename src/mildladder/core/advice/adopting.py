"""Steps that people do and nobody has written down: taken in where the log says that they pay (evidence, section 9)."""

from collections.abc import Callable, Iterator, Mapping, Sequence

from mildladder.core.advice.changes import everywhere
from mildladder.core.advice.first_ladder import USUAL_MINUTES, WORTH_NAMING, Tried
from mildladder.core.advice.judging import Judge
from mildladder.core.advice.nudge import Change
from mildladder.core.evidence.estimate import Estimated
from mildladder.core.evidence.forward import Told
from mildladder.core.model import SOMETHING_ELSE, Playbook, Rung, Step

__all__ = ["adopted"]

LEAST_CASES = 10
_MOST = 3
# Beta(0.4, 1.6): of a step that nobody has judged, every cause is as likely to be ended.
_GUESS = 0.2


def adopted(
    draft: Playbook,
    odd: Sequence[Tried],
    model: Playbook,
    told: Told,
    refit: Callable[[Playbook], Estimated],
    is_stopped: Callable[[], bool] = lambda: False,
) -> Iterator[tuple[Judge, list[Change]]]:
    """For each of those tried most, a judge by an estimate that knows it, and the step at every place of the ladder.

    odd: steps of the log that the draft has not; model: the playbook that the estimate at hand is of.
    """
    for one in [one for one in odd if one.tried >= LEAST_CASES][:_MOST]:
        made = refit(_with(model, _guessed(model, one)))
        learned = next((known for known in made.estimate.steps if known.step == one.id), None)
        if learned is None or learned.refused:
            continue
        step = _learned(made, one, draft)
        judge = Judge(made, _with(draft, step), told, is_stopped)
        yield judge, [*_places(judge, draft, step, one)]


def _places(judge: Judge, draft: Playbook, step: Step, one: Tried) -> Iterator[Change]:
    note = f"From the log: tried {one.tried} times, ended {one.resolved}. Nobody has judged it yet."
    for place, ladder, where in everywhere(draft, Rung(step=step.id, note=note)):
        yield Change(
            "adopt",
            says=f"Take in “{step.title}”, which people do and no step says, {where}",
            why=f"It was tried {one.tried} times, and ended {one.resolved}",
            playbook=judge.draft.model_copy(update={"ladder": ladder}),
            touches=frozenset({place}),
            steps=(step.id,),
            ladder=ladder,
            adds=(step,),
        )


def _guessed(model: Playbook, one: Tried) -> Step:
    return _step(one, {cause.id: _GUESS for cause in model.causes if cause.id != SOMETHING_ELSE})


def _learned(made: Estimated, one: Tried, draft: Playbook) -> Step:
    """The step with what the cases make of its chances; at least the one that is likeliest."""
    model = made.model
    number = next(at for at, source in enumerate(model.sources) if source.step == one.id)
    means: Mapping[str, float] = {
        cause.id: float(made.chances.mean().cures[number, at, 0])
        for at, cause in enumerate(model.causes)
        if cause.id != SOMETHING_ELSE and any(cause.id == known.id for known in draft.causes)
    }
    most = max(means.values(), default=0.0)
    return _step(one, {cause: round(mean, 3) for cause, mean in means.items() if mean >= min(WORTH_NAMING, most)})


def _step(one: Tried, fixes: Mapping[str, float]) -> Step:
    return Step.model_validate(
        {
            "id": one.id,
            "title": one.title[:300],
            "kind": "fix",
            "effort": {"hands_on": round(one.minutes or USUAL_MINUTES, 1)},
            "done": round((one.tried + 4) / (one.tried + one.could_not + 4), 3),
            "fixes": dict(fixes),
        }
    )


def _with(playbook: Playbook, step: Step) -> Playbook:
    return playbook.model_copy(update={"steps": (*playbook.steps, step)})
