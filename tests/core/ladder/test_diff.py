"""Differences: none exactly when two documents are equal, and each in a sentence that can be read."""

from copy import deepcopy

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mildladder.core.figures.forecast import forecast
from mildladder.core.ladder.diff import differences
from mildladder.core.model import Playbook
from mildladder.desk.drafts.editions import compare
from tests.core.ordering.ladders import ladder_of
from tests.core.random_ladders import random_data
from tests.core.review.review_cases import CASES, Data, make, on, order, step, whole


def says(before: Playbook, after: Playbook) -> list[str]:
    return [f"{one.group}: {one.says}" for one in differences(before, after)]


@pytest.mark.parametrize(
    ("change", "sentence"),
    [
        (
            order("reload-program", "sensor-look", "clear-hold", "save-counts"),
            "order: “Load the lane unit's program again” moved from 4 to 1",
        ),
        (
            order("sensor-look", "save-counts", "reload-program"),
            "order: “Clear the hold-open setting” is gone; it stood at 2",
        ),
        (
            lambda data: data["ladder"].insert(1, {"step": "wave-through", "when": "model is GR4"}),
            "order: “Wave people through by hand” is new at 2",
        ),
        (
            lambda data: data["ladder"].insert(1, {"step": "wave-through", "when": "model is GR4"}),
            "conditions: “Wave people through by hand” only where “Which model?” is GR4",
        ),
        (
            on("clear-hold", when="model is GR4"),
            "conditions: “Clear the hold-open setting” now only where “Which model?” is GR4",
        ),
        (on("clear-hold", note="Quick"), "text: “Clear the hold-open setting”: the note on why it stands there added"),
        (on("clear-hold", optional=True), "order: “Clear the hold-open setting” may now be left out"),
        (on("sensor-look", on={}), "order: “Read the home sensor” no longer has a side rail after “Reads blocked”"),
        (
            step("reload-program", fixes={"bad-setting": "usually", "sensor-dirty": "rarely"}),
            "judgement: chance that “Load the lane unit's program again” ends “Hold-open left on” from often to usually",
        ),
        (
            step("clear-hold", effort={"hands_on": 3, "wait": 1}),
            "judgement: effort of “Clear the hold-open setting” from desk 2 min + 1 wait to desk 3 min + 1 wait",
        ),
        (
            step("clear-hold", expect="The lamp is steady"),
            "text: “Clear the hold-open setting”: what is expected from It works to The lamp is steady",
        ),
        (whole(policy={"rate": 8}), "judgement: one harm point is worth 8 effort minutes, before 5"),
        (whole(title="Arm up"), "text: it is now called “Arm up” instead of “Gate arm stays raised”"),
    ],
)
def test_a_change_is_one_readable_sentence(change, sentence):
    assert sentence in says(make(), make(change))


def test_the_fewest_moves_are_told():
    moved = says(make(), make(order("clear-hold", "save-counts", "reload-program", "sensor-look")))
    assert moved == ["order: “Read the home sensor” moved from 1 to 4"]


def test_a_condition_that_changes_or_goes_is_told_with_what_it_was():
    one, two = make(on("clear-hold", when="model is GR4")), make(on("clear-hold", when="model is GR6"))
    assert (
        "conditions: “Clear the hold-open setting” now only where “Which model?” is GR6, before where “Which model?” is GR4"
        in says(one, two)
    )
    assert "conditions: “Clear the hold-open setting” no longer only where “Which model?” is GR4" in says(one, make())


def test_groups_come_in_their_order_with_the_figures_of_both():
    after = make(lambda data: (step("clear-hold", say="Soon")(data), order("clear-hold", "sensor-look")(data)))
    made = compare(make(), after)
    groups = [one.group for one in made.sentences]
    assert groups == sorted(groups, key=["order", "conditions", "judgement", "text"].index)
    assert (made.before, made.after) == (forecast(make()), forecast(after))


@pytest.mark.parametrize(("code", "broken", "passing"), CASES)
def test_what_breaks_a_rule_is_told_as_a_difference(code, broken, passing):
    assert bool(differences(passing, broken)) == (passing != broken)
    assert differences(broken, broken) == []


EDITS = st.integers(0, 400)


@given(st.integers(0, 60), st.lists(st.tuples(EDITS, EDITS), max_size=3))
@settings(max_examples=150, deadline=None)
def test_documents_are_equal_exactly_when_there_is_nothing_to_say(seed, edits):
    data = random_data(seed, 5)
    before = Playbook.model_validate(deepcopy(data))
    for where, what in edits:
        edit(data, where, what)
    after = Playbook.model_validate(data)
    assert (differences(before, after) == []) == (before == after)
    assert (differences(after, before) == []) == (before == after)


def edit(data: Data, where: int, what: int) -> None:
    """One of many small changes somewhere in the document, or one that leaves it equal."""
    steps, ladder = data["steps"], data["ladder"]
    chosen, place = steps[where % len(steps)], where % len(ladder)
    changes = [
        lambda: chosen.update(title=f"Another {what}"),
        lambda: chosen.update(effort={"hands_on": float(what)}),
        lambda: chosen.update(do=[{"text": f"Do {what}"}]),
        lambda: chosen.update(beware=["Mind"]),
        lambda: ladder.insert(what % len(ladder), ladder.pop(place)),
        lambda: ladder[place].update(note=f"Why {what}"),
        lambda: ladder[place].update(optional=not ladder[place].get("optional", False)),
        lambda: ladder.append({"step": chosen["id"]}),
        lambda: data["causes"][0].update(weight=1.0 + what),
        lambda: data.update(title=f"Random {what}"),
        lambda: data["symptom"].update(lost=["page"]),
        lambda: data["hand_offs"].reverse(),
        lambda: data.update(policy={"rate": float(what)}),
        lambda: steps.reverse(),
        lambda: ladder[place].get("on", {}).clear(),
        lambda: data.update(after_fix=[{"step": chosen["id"]}]),
        lambda: None,
    ]
    changes[what % len(changes)]()


def test_random_ladders_are_told_apart():
    for seed in range(30):
        one, two = ladder_of(seed, 5), ladder_of(seed + 1, 5)
        assert differences(one, two)
