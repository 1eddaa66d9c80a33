"""Changes beyond the order: each is worth what two forecasts differ by."""

import pytest

from mildladder.core.errors import Stopped
from mildladder.core.figures.forecast import forecast
from mildladder.core.ordering.suggestions import suggestions
from mildladder.core.ordering.what_if import Changes, StepChange, changed
from tests.core.ordering.ladders import ladder_of
from tests.samples import gate


def telling_check(**more):
    """A cheap check that tells two causes apart, each with a costly fix of its own."""
    fix = {"kind": "fix", "effort": {"hands_on": 20}}
    check = {
        "id": "look",
        "title": "Look",
        "kind": "check",
        "effort": {"hands_on": 0.5},
        "findings": [
            {"id": "dirty", "title": "Dirty", "given": {"sensor-dirty": 1, "*": 0}},
            {"id": "clean", "title": "Clean", "given": {"sensor-dirty": 0, "*": 1}},
        ],
    }
    steps = [
        check,
        {**fix, "id": "set", "title": "Set", "fixes": {"bad-setting": 0.9}},
        {**fix, "id": "wipe", "title": "Wipe", "fixes": {"sensor-dirty": 0.9}},
    ]
    return gate(steps=steps, ladder=[{"step": "look"}, {"step": "set"}, {"step": "wipe"}], **more)


def test_a_rail_that_pays_is_proposed_with_what_it_saves():
    first = next(one for one in suggestions(telling_check()) if one.kind == "rail")
    assert first.says.startswith("After “Look” finds “Dirty”, go to “Wipe” at once: ")
    after = forecast(telling_check().model_copy(update={"ladder": first.ladder}))
    assert first.effort == pytest.approx(forecast(telling_check()).effort - after.effort)
    assert first.effort > 1


def test_no_rail_brings_up_what_comes_next_anyway_for_a_second_try_of_it():
    data = telling_check().model_dump(mode="json", by_alias=True, exclude_unset=True)
    quick = {"done": 0.5, "effort": {"hands_on": 1}}
    steps = [{**step, **quick} if step["id"] == "set" else step for step in data["steps"]]
    rails = [one for one in suggestions(gate(**{**data, "steps": steps})) if one.kind == "rail"]
    assert rails
    assert all(one.ladder[0].on.get("clean", ()) == () for one in rails)


def test_a_check_that_changes_nothing_is_not_worth_asking():
    kinds = [one.kind for one in suggestions(gate(ladder=[{"step": "sensor-look"}, {"step": "clear-hold"}]))]
    assert "drop-check" in kinds


def test_a_step_that_belongs_higher_on_one_sort_of_unit_is_split():
    steps = [
        {"id": "set", "title": "Set", "kind": "fix", "effort": {"hands_on": 5}, "fixes": {"bad-setting": 0.5}},
        {
            "id": "wipe",
            "title": "Wipe",
            "kind": "fix",
            "effort": {"hands_on": 30},
            "fixes": {"sensor-dirty": 0.9},
            "varies": [{"when": "model is GR6", "effort": {"hands_on": 1}}],
        },
    ]
    playbook = gate(steps=steps, ladder=[{"step": "set"}, {"step": "wipe"}])
    split = next(one for one in suggestions(playbook) if one.kind == "split")
    assert "“Which model?” is GR6" in split.says
    assert [rung.when for rung in split.ladder] == ["model is GR6", None, "model is not GR6"]


@pytest.mark.parametrize("seed", range(25))
def test_every_worth_is_the_difference_of_two_forecasts(seed):
    playbook = ladder_of(seed, 5)
    now = forecast(playbook)
    for one in suggestions(playbook):
        if one.ladder is None:
            after = forecast(playbook.model_copy(update={"ladder": playbook.ladder[: one.rung + 1]}))
        else:
            after = forecast(playbook.model_copy(update={"ladder": one.ladder}))
        assert one.effort == pytest.approx(now.effort - after.effort, abs=1e-9)
        assert one.harm == pytest.approx(now.harm - after.harm, abs=1e-9)
        assert one.effort + playbook.policy.rate * one.harm > 0


def test_they_stop_when_nobody_waits():
    with pytest.raises(Stopped):
        suggestions(telling_check(), lambda: True)


def test_another_judgement_is_forecast_without_a_trace():
    cheaper = Changes(
        steps=(StepChange(step="clear-hold", effort={"hands_on": 1}, fixes={"bad-setting": 0.5}),), rate=2
    )
    assert forecast(changed(gate(), cheaper)).effort != forecast(gate()).effort
    assert changed(gate(), cheaper).policy.rate == 2
    assert changed(gate(), Changes(shares={"model": {"GR4": 0.1, "GR6": 0.9}})).facts[0].choices == {
        "GR4": 0.1,
        "GR6": 0.9,
    }
    assert changed(gate(), Changes(weights={"bad-setting": 9})).causes[1].weight == 9


@pytest.mark.parametrize(
    "wrong",
    [
        Changes(steps=(StepChange(step="nothing"),)),
        Changes(shares={"nothing": {"a": 1}}),
        Changes(weights={"nothing": 1}),
        Changes(shares={"model": {"GR4": 0.1}}),
        Changes(steps=(StepChange(step="clear-hold", fixes={"nothing": 0.5}),)),
    ],
)
def test_a_judgement_of_what_is_not_there_is_refused(wrong):
    with pytest.raises(Exception, match="nothing|shares|sum"):
        changed(gate(), wrong)
