"""What a draft would come to by what was learned of an edition."""

from dataclasses import replace

import pytest

from mildladder.core.evidence.carried import Carried
from mildladder.core.evidence.counts import DoneCount, HarmCount
from mildladder.core.evidence.estimate import estimate, on_units, spaced
from mildladder.core.evidence.forward import Told, drawn_of, learned_figures, told_of, with_learned
from mildladder.core.evidence.lesson import Lesson, Teaching, lesson_of
from mildladder.core.evidence.rates import Rate, no_evidence
from mildladder.core.evidence.records import records_of
from mildladder.core.evidence.taught import taught_playbook, with_units
from mildladder.core.figures.drawn import drawn_forecast
from mildladder.core.figures.forecast import forecast
from mildladder.core.ladder.moves import reordered
from mildladder.core.model import Playbook
from tests.core.evidence.desks import small_desk

NONE = Rate(mean=None, low=None, high=None)


@pytest.fixture(scope="module", params=[True, False], ids=["flat", "with everything"])
def made(request):
    desk = small_desk(3, cases=1500, is_flat=request.param)
    records, model = records_of(desk.tallies, desk.model)
    return estimate(records, model, {step: tried for step, (_, tried) in desk.raw.items()}, {})


def edited(playbook: Playbook, **changes) -> Playbook:
    return Playbook.model_validate({**playbook.model_dump(mode="json", by_alias=True, exclude_unset=True), **changes})


def test_the_edition_itself_is_its_forecast_under_the_draws_and_differs_from_itself_by_nothing(made):
    playbook = made.model.playbook
    figures = learned_figures(made, drawn_of(made, playbook, Told()), drawn_of(made, playbook, Told()))
    plain = drawn_forecast(playbook, on_units(made.model, spaced(made.chances)))
    assert figures.effort.mean == pytest.approx(plain.effort.mean())
    assert figures.resolved.mean == pytest.approx(plain.resolved.mean())
    assert (figures.less_effort.low, figures.less_effort.high) == (0, 0)
    assert figures.effort.low < figures.effort.mean < figures.effort.high


def test_another_order_differs_by_what_its_draws_say(made):
    playbook = made.model.playbook
    order = list(range(len(playbook.ladder)))
    order[0], order[-1] = order[-1], order[0]
    figures = learned_figures(
        made, drawn_of(made, reordered(playbook, order), Told()), drawn_of(made, playbook, Told())
    )
    assert figures.less_effort.mean == pytest.approx(
        figures.effort.mean - learned_figures(made, drawn_of(made, playbook, Told()), None).effort.mean
    )
    assert figures.less_effort.low < figures.less_effort.high
    assert figures.more_resolved.mean == pytest.approx(0, abs=1e-9) or made.model.groups[1:]


def test_a_guess_that_was_changed_since_stays_as_the_lead_says(made):
    playbook = made.model.playbook
    dead = edited(
        playbook,
        steps=[
            {
                **step.model_dump(mode="json", by_alias=True, exclude_unset=True),
                **({"fixes": {}} if step.is_tested else {}),
            }
            for step in playbook.steps
        ],
    )
    figures = learned_figures(made, drawn_of(made, dead, Told()), drawn_of(made, playbook, Told()))
    # What nobody lists may still end something else, as the cases have it.
    assert figures.resolved.mean < learned_figures(made, drawn_of(made, playbook, Told()), None).resolved.mean / 2
    assert figures.more_resolved.high < 0


def test_a_cause_and_a_step_that_are_new_stay_as_the_lead_says(made):
    playbook = made.model.playbook
    data = playbook.model_dump(mode="json", by_alias=True, exclude_unset=True)
    more = edited(
        playbook,
        causes=[*data["causes"], {"id": "new", "title": "New", "layer": "data", "weight": 100_000}],
        steps=[*data["steps"], {"id": "cure", "title": "Cure", "kind": "fix", "fixes": {"new": 1.0}}],
        ladder=[*data["ladder"], {"step": "cure"}],
    )
    figures = learned_figures(made, drawn_of(made, more, Told()), None)
    assert figures.resolved.mean > 0.85
    assert figures.less_effort is None


def test_how_often_a_step_can_be_done_and_what_harm_it_does_is_taken_from_the_cases(made):
    playbook = made.model.playbook
    first = playbook.steps[0]
    harmful = {"kind": "data", "severity": 3, "chance": 0.1}
    data = playbook.model_dump(mode="json", by_alias=True, exclude_unset=True)
    with_harm = edited(playbook, steps=[{**data["steps"][0], "hazards": [harmful]}, *data["steps"][1:]])
    counts = {first.id: no_evidence(first.id).model_copy(update={"tried": 60, "could_not": 36})}
    learned = with_learned(with_harm, told_of(counts, {first.id: HarmCount(60, {"data": 30})}))
    assert learned.steps[0].done == pytest.approx((4 * first.done + 60) / 100)
    assert learned.steps[0].hazards[0].chance == pytest.approx(32 / 80)
    assert learned.steps[1].done == playbook.steps[1].done


def test_the_playbook_that_the_cases_have_taught_has_the_forecast_of_their_means(made):
    playbook = made.model.playbook
    taught = taught_playbook(made.model, spaced(made.chances).mean(), playbook, Told())
    means = drawn_forecast(playbook, on_units(made.model, spaced(made.chances).mean()))
    figures = forecast(taught)
    # The shares of sorts of units stay the lead's; with one sort of unit nothing else differs.
    tolerance = 1e-9 if len(made.model.groups) == 1 else 0.02
    assert figures.effort == pytest.approx(means.effort[0], rel=tolerance)
    assert figures.resolved == pytest.approx(means.resolved[0], rel=tolerance)
    assert [rung.step for rung in taught.ladder] == [rung.step for rung in playbook.ladder]
    again = Playbook.model_validate(taught.model_dump(mode="json", by_alias=True, exclude_unset=True))
    assert forecast(again).effort == pytest.approx(figures.effort)


def test_a_lesson_that_was_kept_teaches_the_means_and_its_total_lies_within_the_interval(made):
    playbook = made.model.playbook
    told = Told({"ctrl box pwr cycle": DoneCount(3, 1)}, {"ctrl box pwr cycle": HarmCount(3, {})})
    lesson = Lesson.model_validate_json(lesson_of(made, told).model_dump_json())
    assert (lesson.done, lesson.harms) == ({}, {})
    taught = forecast(Teaching("1", made.model, lesson).taught(playbook))
    means = taught_playbook(made.model, spaced(made.chances).mean(), playbook, Told())
    means = with_units(made.model, spaced(made.chances).mean(), means)
    assert taught.effort == pytest.approx(forecast(means).effort, abs=1e-9)
    figures = learned_figures(made, drawn_of(made, playbook, Told()), None)
    assert figures.effort.low < taught.effort < figures.effort.high
    assert figures.resolved.low < taught.resolved + taught.worked_around < figures.resolved.high


def test_where_too_few_cases_speak_there_is_no_lesson(made):
    refused = replace(made, estimate=made.estimate.model_copy(update={"refused": "too-few"}))
    assert lesson_of(refused, Told()) is None


def test_a_draft_that_tells_no_units_apart_has_the_causes_of_all_of_them():
    desk = small_desk(3, cases=10)
    plain = desk.playbook.model_copy(
        update={
            "facts": (),
            "causes": tuple(cause.model_copy(update={"likelier": ()}) for cause in desk.playbook.causes),
            "steps": tuple(step.model_copy(update={"varies": ()}) for step in desk.playbook.steps),
            "ladder": tuple(rung.model_copy(update={"when": None}) for rung in desk.playbook.ladder),
        }
    )
    (carried,) = Carried(desk.model, desk.truth, plain).units()
    assert carried.mass == pytest.approx((desk.truth.shares[:, None] * desk.truth.causes).sum(axis=0))
