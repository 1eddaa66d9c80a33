"""The ladder under a changed judgement, without saving it: what would it cost, and which order would be best?"""

from mildladder.core.errors import BadInput
from mildladder.core.ladder.soundness import check
from mildladder.core.model import Amount, Chance, Effort, FactValue, Hazard, Id, Mode, Playbook, Shape, Share, Step

__all__ = ["Changes", "StepChange", "changed"]


class StepChange(Shape):
    """What is judged otherwise of one step; what is left out stays as it is."""

    step: Id
    effort: Effort | None = None
    fixes: dict[Id, Chance] | None = None
    hazards: tuple[Hazard, ...] | None = None
    done: Share | None = None


class Changes(Shape):
    """A changed judgement. shares: fact -> share by value. weights: cause -> how common it is."""

    steps: tuple[StepChange, ...] = ()
    shares: dict[Id, dict[FactValue, Share]] = {}
    weights: dict[Id, Amount] = {}
    rate: Amount | None = None
    mode: Mode | None = None


def changed(playbook: Playbook, changes: Changes) -> Playbook:
    """The playbook under a changed judgement. Raises BadInput for ids that it does not have, or an unsound result."""
    known = {
        "steps": {step.id for step in playbook.steps},
        "shares": {fact.id for fact in playbook.facts},
        "weights": {cause.id for cause in playbook.causes},
    }
    named = {
        "steps": {one.step for one in changes.steps},
        "shares": set(changes.shares),
        "weights": set(changes.weights),
    }
    for part, names in named.items():
        for name in sorted(names - known[part]):
            raise BadInput(f"this playbook has no '{name}' to judge otherwise", path=part)
    by_step = {one.step: one for one in changes.steps}
    policy = {name: value for name in ("rate", "mode") if (value := getattr(changes, name)) is not None}
    return check(
        playbook.model_copy(
            update={
                "steps": tuple(_step(step, by_step.get(step.id)) for step in playbook.steps),
                "facts": tuple(
                    fact.model_copy(update={"choices" if fact.type == "choice" else "shares": changes.shares[fact.id]})
                    if fact.id in changes.shares
                    else fact
                    for fact in playbook.facts
                ),
                "causes": tuple(
                    cause.model_copy(update={"weight": changes.weights.get(cause.id, cause.weight)})
                    for cause in playbook.causes
                ),
                "policy": playbook.policy.model_copy(update=policy),
            }
        )
    )


def _step(step: Step, change: StepChange | None) -> Step:
    if change is None:
        return step
    names = ("effort", "fixes", "hazards", "done")
    return step.model_copy(update={name: value for name in names if (value := getattr(change, name)) is not None})
