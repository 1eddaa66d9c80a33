"""Harm that nothing eases: a safeguard that the desk has, put above it, before one that is still to be named."""

from dataclasses import replace

import pytest

from mildladder.core.advice.guarding import unguarded
from mildladder.core.advice.judging import Judge
from mildladder.core.advice.nudge import Nudge
from mildladder.core.advice.nudges import nudges_of
from mildladder.core.evidence.counts import HarmCount
from mildladder.core.evidence.forward import Told
from mildladder.core.ladder.soundness import faults
from mildladder.core.model import Hazard, Playbook, Step
from mildladder.core.model.sending import Suggesting
from tests.core.advice.grounds import best_desk, grounds_of

HAZARD = {"kind": "data", "severity": 3, "chance": 0.02}
HARMS = {"fix-0": HarmCount(100, {"data": 12})}
SAVE = {"id": "save", "title": "Save the counts", "kind": "safeguard", "effort": {"hands_on": 1}}


@pytest.fixture(scope="module")
def desk():
    return best_desk(4)


def draft_of(desk, eases: str | None, places: dict[str, int], harms: str = "fix-0") -> Playbook:
    """The desk's ladder with a hazard that nothing eases, a safeguard that eases another step's, and its rung."""
    data = desk.playbook.model_dump(mode="json", by_alias=True, exclude_unset=True)
    given = {harms: [HAZARD]}
    if eases:
        given[eases] = [{**HAZARD, "chance": 0.1, "eased_by": "save", "eased_to": 0.2}]
    steps = [{**step, **({"hazards": given[step["id"]]} if step["id"] in given else {})} for step in data["steps"]]
    ladder = list(data["ladder"])
    for step, place in places.items():
        ladder.insert(place, {"step": step})
    return Playbook.model_validate({**data, "steps": [*steps, *([SAVE] if eases else [])], "ladder": ladder})


def found(desk, draft: Playbook, elsewhere=None):
    grounds = grounds_of(desk)
    judge = Judge(grounds.made, draft, Told(harms=HARMS))
    return judge, list(unguarded(judge, HARMS, draft, elsewhere))


def order(change) -> list[str]:
    return [rung.step for rung in change.ladder]


def test_a_safeguard_of_the_ladder_is_put_above_wherever_it_stands(desk):
    for place in (0, len(desk.playbook.ladder)):
        draft = draft_of(desk, "fix-1", {"save": place})
        judge, (change,) = found(desk, draft)
        assert change.says == "Let “Save the counts” stand above “Fix 0” and ease its harm"
        assert order(change).count("save") == 1
        assert order(change).index("save") < order(change).index("fix-0")
        (eased,) = change.adds
        assert (eased.hazards[0].eased_by, eased.hazards[0].eased_to, eased.hazards[0].chance) == ("save", 0.1, 0.02)
        assert next(faults(change.playbook), None) is None
        # The chance by which it is judged is the one that was counted.
        assert change.playbook.step("fix-0").hazards[0].chance == judge.draft.step("fix-0").hazards[0].chance > 0.05


def test_a_safeguard_that_eases_the_same_step_elsewhere_comes_with_its_text(desk):
    draft = draft_of(desk, None, {})
    save = Step.model_validate(SAVE)
    _, (change,) = found(desk, draft, {("fix-0", "data"): [save]})
    assert [one.id for one in change.adds] == ["fix-0", "save"]
    assert order(change).index("save") == order(change).index("fix-0") - 1
    assert next(faults(change.playbook), None) is None
    for other in (("fix-1", "data"), ("fix-0", "injury")):
        _, (named,) = found(desk, draft, {other: [save]})
        assert named.says == "Name a safeguard for “Fix 0”", "what eases something else says nothing here"


def test_a_step_with_more_harm_than_one_is_told_as_a_file_says_it(desk):
    """What has no safeguard says nothing of easing, so that it can be read again."""
    first = desk.playbook.ladder[0].step
    draft = draft_of(desk, "fix-1", {"save": 0}, first)
    injury = Hazard(kind="injury", severity=2, chance=0.01)
    steps = tuple(
        step.model_copy(update={"hazards": (*step.hazards, injury)}) if step.id == first else step
        for step in draft.steps
    )
    draft = draft.model_copy(update={"steps": steps})
    grounds = replace(grounds_of(desk), draft=draft, told=Told(harms={first: HarmCount(200, {"data": 60})}))
    (told,) = [one for one in nudges_of(grounds) if one.kind == "safeguard"]
    (plain,) = Nudge.model_validate_json(told.model_dump_json()).adds
    assert Step.model_validate(plain).hazards[1] == injury
    assert "eased_to" not in plain["hazards"][1]
    deed = {"kind": "suggestion", "revision": 1, "ladder": [{"step": first}], "says": "So", "adds": [plain]}
    assert Suggesting.model_validate(deed).steps[first].hazards[0].eased_by == "save"
    with pytest.raises(ValueError, match="hazards"):
        Suggesting.model_validate({**deed, "adds": [{**plain, "hazards": 3}]})


def test_a_step_on_no_rung_or_a_safeguard_that_is_bound_asks_for_a_name(desk):
    draft = draft_of(desk, "fix-1", {"save": len(desk.playbook.ladder)})
    bound = tuple(rung.model_copy(update={"pin": "last"}) if rung.step == "save" else rung for rung in draft.ladder)
    _, (change,) = found(desk, draft.model_copy(update={"ladder": bound}))
    assert change.says == "Name a safeguard for “Fix 0”"
    off = tuple(rung for rung in draft.ladder if rung.step != "fix-0")
    _, (change,) = found(desk, draft.model_copy(update={"ladder": off}))
    assert change.ladder is None
