"""A draft as the cases have it: shares of facts, minutes, sorts of units that the cases knew as one."""

from dataclasses import replace

import numpy as np
import pytest

from mildladder.core.evidence.carried import Carried
from mildladder.core.evidence.estimate import estimate
from mildladder.core.evidence.forward import Told, drawn_of, learned_figures
from mildladder.core.evidence.learnable import learnable
from mildladder.core.evidence.learned import guesses_of, medians, minutes_of_step
from mildladder.core.evidence.lesson import Lesson, Teaching, lesson_of
from mildladder.core.evidence.records import KeyedTally, records_of
from mildladder.core.evidence.taught import taught_playbook, with_units
from mildladder.core.figures.drawn import drawn_forecast
from mildladder.core.figures.forecast import forecast
from mildladder.core.tally.signature import AttemptSign, Signature
from tests.core.evidence.desks import small_desk
from tests.samples import GATE, gate


@pytest.fixture(scope="module")
def made():
    desk = small_desk(3, cases=400, is_flat=False)
    records, model = records_of(desk.tallies, desk.model)
    return estimate(records, model, {step: tried for step, (_, tried) in desk.raw.items()}, {})


def under(model, *shares):
    """Chances of a model by the lead, but for the shares of its sorts of units."""
    return replace(prior_means(model), shares=np.array(shares)[:, None])


def prior_means(model):
    records, model = records_of([], model)
    return estimate(records, model, {}, {}).chances.mean()


def test_facts_have_the_shares_that_the_cases_have_them_in():
    model = learnable(gate())
    places = [group.facts["model"] for group in model.groups]
    shares = {"GR4": 0.25, "GR6": 0.75}
    means = under(model, *(shares[value] for value in places))
    assert with_units(model, means, gate()).facts[0].choices == pytest.approx(shares)
    # What the lead has judged anew since stays so.
    other = gate(facts=[{**GATE["facts"][0], "choices": {"GR4": 0.5, "GR6": 0.5}}])
    assert with_units(model, means, other).facts[0].choices == {"GR4": 0.5, "GR6": 0.5}


def test_values_that_no_condition_tells_apart_stay_as_common_within_their_sort_as_judged():
    facts = [{**GATE["facts"][0], "choices": {"GR4": 0.6, "GR5": 0.1, "GR6": 0.3}}]
    model = learnable(gate(facts=facts))
    shares = [0.2 if group.facts["model"] == "GR4" else 0.8 for group in model.groups]
    taught = with_units(model, under(model, *shares), gate(facts=facts))
    assert taught.facts[0].choices == pytest.approx({"GR4": 0.2, "GR5": 0.2, "GR6": 0.6})


def test_sorts_of_units_that_the_cases_knew_as_one_share_it_and_its_causes_as_the_lead_says():
    model = learnable(gate())
    means = under(model, *(0.25 if group.facts["model"] == "GR4" else 0.75 for group in model.groups))
    data = {"id": "site", "ask": "Which site?", "type": "choice", "choices": {"north": 0.2, "south": 0.8}}
    causes = [{**GATE["causes"][0], "likelier": [{"when": "site is north", "times": 3}]}, *GATE["causes"][1:]]
    split = gate(facts=[*GATE["facts"], data], causes=causes)
    masses = {tuple(one.group.facts.values()): one.mass[:, 0] for one in Carried(model, means, split).units()}
    for number, group in enumerate(model.groups):
        parts = {site: mass for (value, site), mass in masses.items() if value == group.facts["model"]}
        assert [parts[site].sum() for site in ("north", "south")] == pytest.approx(
            [share * means.shares[number, 0] for share in (0.2, 0.8)]
        )
        # Together they have the causes that the cases have them have, as nearly as both shares can be kept.
        assert sum(parts.values()) == pytest.approx(means.shares[number, 0] * means.causes[number, :, 0], rel=0.01)
        north, south = (parts[site] / parts[site].sum() for site in ("north", "south"))
        assert (north[0] / north[1]) / (south[0] / south[1]) == pytest.approx(3)


def test_a_step_takes_its_median_and_what_it_consists_of_keeps_its_parts():
    found = {"clear-hold": 8.0, "wave-through": 34.0}
    model = learnable(gate())
    taught = taught_playbook(model, prior_means(model), gate(), Told(minutes=found))
    # The test after it, a minute, is the playbook's, not the step's.
    effort = taught.step("clear-hold").effort
    assert (effort.hands_on, effort.wait) == pytest.approx((7 * 2 / 3, 7 / 3))
    effort = taught.step("wave-through").effort
    assert (effort.hands_on, effort.travel, effort.parts) == pytest.approx((11, 22, 2))
    assert taught.step("reload-program").effort == gate().step("reload-program").effort


def test_minutes_of_a_step_that_takes_longer_on_some_units_stay_as_judged():
    varied = {**GATE["steps"][1], "varies": [{"when": "model is GR6", "effort": {"hands_on": 9}}]}
    steps = [varied if step["id"] == "clear-hold" else step for step in GATE["steps"]]
    model = learnable(gate(steps=steps))
    taught = taught_playbook(model, prior_means(model), gate(steps=steps), Told(minutes={"clear-hold": 30.0}))
    assert taught.step("clear-hold").effort == gate(steps=steps).step("clear-hold").effort


def test_too_few_minutes_say_nothing():
    bins = {"clear-hold": {"57": 10}, "reload-program": {"57": 40}}
    median = minutes_of_step(gate().step("reload-program"), bins["reload-program"], gate().retest).median
    assert medians(gate(), bins) == {"reload-program": median}


def test_the_minutes_of_a_search_hold_many_rounds_and_say_nothing_of_one():
    round_of = {"over": "leads", "count": 8, "how": "halves", "round": {"hands_on": 3}}
    steps = [{**step, "search": round_of} if step["id"] == "clear-hold" else step for step in GATE["steps"]]
    assert medians(gate(steps=steps), {"clear-hold": {"57": 40}}) == {}


def test_what_was_counted_of_steps_and_units_is_in_the_lesson_the_forecast_and_its_interval(made):
    first = made.model.playbook.steps[0].id
    when = "earlier cases at least 2 within 20 days"
    ladder = made.model.playbook.ladder
    asked = made.model.playbook.model_copy(
        update={"ladder": (ladder[0].model_copy(update={"when": when}), *ladder[1:])}
    )
    told = Told(minutes={ladder[0].step: 90.0, "another": 3.0}, histories={when: 0.4})
    lesson = Lesson.model_validate_json(lesson_of(made, told).model_dump_json())
    assert (lesson.minutes, lesson.histories) == ({ladder[0].step: 90.0}, {when: 0.4})
    figures = learned_figures(made, drawn_of(made, asked, told), None)
    taught = forecast(Teaching("1", made.model, lesson).taught(asked))
    assert figures.effort.low < taught.effort < figures.effort.high
    plain = learned_figures(made, drawn_of(made, asked, Told(minutes=told.minutes)), None)
    assert figures.effort.mean > plain.effort.mean + 10, first


def test_a_draft_of_the_same_units_has_the_forecast_of_the_means(made):
    playbook = made.model.playbook
    means = made.chances.mean()
    drawn = drawn_forecast(playbook, Carried(made.model, means, playbook).units())
    assert forecast(
        with_units(made.model, means, taught_playbook(made.model, means, playbook, Told()))
    ).effort == pytest.approx(drawn.effort[0])


def test_how_common_each_sort_of_unit_is_stands_beside_what_the_lead_says():
    rare = gate(facts=[{**GATE["facts"][0], "choices": {"GR4": 0.05, "GR6": 0.95}}])
    fixed = Signature(
        attempts=(AttemptSign(step="clear-hold", result="fixed"),), end="resolved", resolved_by="clear-hold"
    )
    tallies = [KeyedTally(fixed, {"model": value}, False, 150) for value in ("GR4", "GR6")]
    records, model = records_of(tallies, learnable(rare))
    made = estimate(records, model, {"clear-hold": 300}, {})
    units = [one for one in guesses_of(made, {}) if one.what == "unit"]
    assert [(one.value, one.judged, one.is_contradicted) for one in units] == [("GR4", 0.05, True), ("GR6", 0.95, True)]
    assert units[0].says == "“Which model?” is GR4"
    assert units[0].seen.low < 150 / 300 < units[0].seen.high
    assert sum(one.seen.mean for one in units) == pytest.approx(1)
