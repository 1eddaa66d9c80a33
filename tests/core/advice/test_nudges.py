"""What is nudged is really worth it, keeps the rules, is said once; where there is nothing to find, nothing is said."""

from dataclasses import replace

import pytest

from mildladder.core.advice.changes import additions, beyond, moves
from mildladder.core.advice.counted import hard_to_do, without_cures_that_come_back
from mildladder.core.advice.guarding import unguarded
from mildladder.core.advice.judging import Judge
from mildladder.core.advice.nudges import Grounds, certain_changes, nudges_of
from mildladder.core.errors import Stopped
from mildladder.core.evidence.counts import HarmCount
from mildladder.core.evidence.differences import Split
from mildladder.core.evidence.forward import Told
from mildladder.core.evidence.learned import LearnedMinutes
from mildladder.core.evidence.rates import no_evidence
from mildladder.core.evidence.taught import taught_playbook
from mildladder.core.ladder.moves import reordered
from mildladder.core.model import Playbook, Step
from tests.core.advice.grounds import A_MONTH, best_desk, counted, grounds_of, really, with_wrong_guesses
from tests.core.evidence.desks import small_desk


def worst_first(playbook: Playbook) -> Playbook:
    """The ladder upside down."""
    return reordered(playbook, list(reversed(range(len(playbook.ladder)))))


@pytest.fixture(scope="module")
def upside_down():
    """A desk with the best order, and a draft with the worst."""
    desk = best_desk(4)
    return desk, grounds_of(desk, worst_first(desk.playbook))


@pytest.fixture(scope="module")
def found(upside_down):
    return nudges_of(upside_down[1])


@pytest.mark.parametrize("seed", [0, 1, 2])
def test_where_the_order_is_the_best_nothing_is_to_be_moved_and_nothing_said_that_is_not_so(seed):
    desk = best_desk(seed)
    draft = with_wrong_guesses(desk.playbook, seed) if seed % 2 else desk.playbook
    grounds = grounds_of(desk, draft)
    judge = really(desk, grounds)
    for nudge in nudges_of(grounds):
        assert nudge.kind != "move", nudge.says
        changed = judge.draft.model_copy(update={"ladder": nudge.ladder})
        assert judge.worth(changed) > 0, nudge.says


def test_a_dear_order_is_found_and_what_is_promised_comes(upside_down, found):
    desk, grounds = upside_down
    judge = really(desk, grounds)
    first = found[0]
    assert first.kind == "move"
    came = A_MONTH * judge.worth(judge.draft.model_copy(update={"ladder": first.ladder}))
    assert first.saving.low <= came <= first.saving.high
    assert first.saving.low > 0


def test_one_thing_is_said_once_and_the_whole_order_instead_of_its_moves(found):
    assert len({nudge.steps for nudge in found}) == len(found)
    if found[0].says.startswith("Take the best order"):
        assert [nudge.kind for nudge in found].count("move") == 1
    assert [nudge.saving.mean for nudge in found] == sorted((n.saving.mean for n in found), reverse=True)


def costly(playbook: Playbook) -> Playbook:
    """Steps of every person, with journeys, waiting, parts and harm."""
    efforts = (
        {"hands_on": 3, "by": "caller"},
        {"hands_on": 4, "by": "visit", "travel": 20, "parts": 5},
        {"hands_on": 2, "by": "desk", "wait": 10},
        {"hands_on": 1, "by": "desk"},
    )
    hazards = [{"kind": "data", "severity": 3, "chance": 0.2}]
    data = playbook.model_dump(mode="json", by_alias=True, exclude_unset=True)
    steps = [
        {**step, "effort": efforts[place % 4], **({"hazards": hazards} if place % 3 == 0 else {})}
        for place, step in enumerate(data["steps"])
    ]
    return Playbook.model_validate({**data, "steps": steps})


def test_the_parts_make_up_the_whole_under_the_desks_weights(upside_down):
    desk, grounds = upside_down
    judge = Judge(grounds.made, costly(grounds.draft), Told())
    changed = judge.draft.model_copy(update={"ladder": desk.playbook.ladder})
    spared, weights = judge.spared(changed), grounds.draft.policy.weights
    hands_on = sum(getattr(weights, person) * minutes for person, minutes in spared.by_person.items())
    travel = spared.people.mean - sum(spared.by_person.values())
    means = judge.few.mean()
    whole = judge.figures(judge.draft, means).effort[0] - judge.figures(changed, means).effort[0]
    parts = hands_on + weights.travel * travel + weights.wait * spared.waiting.mean + weights.parts * spared.parts.mean
    assert parts == pytest.approx(whole, rel=0.1)
    assert min(abs(one) for one in (*spared.by_person.values(), travel, spared.waiting.mean, spared.harm.mean)) > 0.01
    before, after = (judge.figures(one, judge.few) for one in (judge.draft, changed))
    saved = (before.effort - after.effort + judge.rate * (before.harm - after.harm)).mean()
    assert judge.worth(changed) == pytest.approx(saved)
    assert judge.saving(changed).mean() == pytest.approx(saved, rel=0.05)
    assert spared.arriving[0][0] == spared.arriving[1][0] == pytest.approx(1)


def test_what_is_told_is_a_month_of_cases(upside_down, found):
    _, grounds = upside_down
    judge = Judge(grounds.made, grounds.draft, grounds.told)
    changed = judge.draft.model_copy(update={"ladder": found[0].ladder})
    spared = judge.spared(changed)
    assert found[0].saving.mean == pytest.approx(A_MONTH * judge.saving(changed).mean())
    assert found[0].people.mean == pytest.approx(A_MONTH * spared.people.mean)
    assert found[0].by_person["desk"] == pytest.approx(A_MONTH * spared.by_person["desk"])
    assert (found[0].resolved_before, found[0].resolved_after) == spared.resolved


@pytest.mark.parametrize(("seed", "is_much_better"), [(1, True), (3, False)])
def test_of_changes_of_the_same_rungs_one_is_shown_and_a_much_better_whole_order_before_its_moves(seed, is_much_better):
    desk = best_desk(seed)
    grounds = grounds_of(desk, worst_first(desk.playbook))
    sure = certain_changes(grounds)
    by_says = {one.change.says: one for one in sure}
    shown = [by_says[nudge.says] for nudge in nudges_of(grounds)]
    assert len(shown) < len(sure)
    for place, one in enumerate(shown):
        assert not any(one.change.touches & other.change.touches for other in shown[:place])
    single = max(one.saves.mean() for one in sure if one.change.kind == "move" and not one.change.is_order)
    (order,) = [one for one in sure if one.change.is_order]
    assert bool(order.saves.mean() > 1.5 * single) is is_much_better
    assert (order.change.says in [one.change.says for one in shown]) is is_much_better


def test_every_piece_is_tried_at_every_other_place(upside_down):
    _, grounds = upside_down
    learned = {one.step: one for one in grounds.made.estimate.steps}
    made = list(moves(Judge(grounds.made, grounds.draft, Told()), learned))
    orders = {tuple(rung.step for rung in change.ladder) for change in made}
    known = [rung.step for rung in grounds.draft.ladder]
    assert all(not learned[step].refused for step in known)
    assert len(orders) == len(made) == (len(known) - 1) ** 2
    for change in made:
        steps = [rung.step for rung in change.ladder]
        mine, beside = steps.index(change.steps[0]), steps.index(change.steps[1])
        assert beside - mine == (1 if " above " in change.says else -1)
        moved = {number for number, step in enumerate(known) if steps[number] != step}
        assert moved <= change.touches


def without(playbook: Playbook, step: str) -> Playbook:
    return playbook.model_copy(update={"ladder": tuple(rung for rung in playbook.ladder if rung.step != step)})


def test_a_dear_step_that_ends_what_nothing_else_does_is_not_taken_out(upside_down):
    desk, grounds = upside_down
    data = desk.playbook.model_dump(mode="json", by_alias=True, exclude_unset=True)
    judge = Judge(grounds.made, desk.playbook, Told())
    lost = {rung.step: judge.share_lost(without(judge.draft, rung.step)) for rung in desk.playbook.ladder}
    only = max(lost, key=lost.get)
    assert lost[only] > 0.05
    steps = [{**step, "effort": {"hands_on": 900}} if step["id"] == only else step for step in data["steps"]]
    draft = Playbook.model_validate({**data, "steps": steps})
    dear = Judge(grounds.made, draft, Told())
    assert dear.worth(without(dear.draft, only)) > 10
    assert all(nudge.steps != (only,) for nudge in nudges_of(replace(grounds, draft=draft)) if nudge.kind == "drop")


def test_a_step_that_stands_on_no_rung_and_helps_is_given_one(upside_down):
    desk, grounds = upside_down
    learned = {one.step: one for one in grounds.made.estimate.steps}
    best = max(learned.values(), key=lambda one: one.first.mean or 0).step
    ladder = tuple(rung for rung in desk.playbook.ladder if rung.step != best)
    draft = desk.playbook.model_copy(update={"ladder": ladder})
    made = list(additions(Judge(grounds.made, draft, Told()), learned, counted(desk)))
    assert {change.steps for change in made} == {(best,)}
    assert len(made) == len(ladder) + 1
    told = [nudge for nudge in nudges_of(replace(grounds, draft=draft)) if nudge.kind == "add"]
    assert [nudge.steps for nudge in told] == [(best,)]
    rare = {best: no_evidence(best).model_copy(update={"tried": 19})}
    assert list(additions(Judge(grounds.made, draft, Told()), learned, rare)) == []


@pytest.mark.long
def test_a_rail_speaks_of_the_rungs_that_it_brings_up():
    desk = small_desk(7, is_flat=False)
    grounds = grounds_of(desk)
    judge = Judge(grounds.made, grounds.draft, Told())
    known = taught_playbook(desk.model, desk.truth, desk.playbook, Told())
    rails = [change for change in beyond(judge, known) if change.kind == "rail"]
    assert rails
    for change in rails:
        new = [number for number, rung in enumerate(desk.playbook.ladder) if rung.step in change.steps]
        assert set(new) == change.touches
        assert len(new) >= 2


def test_too_few_cases_a_quiet_symptom_and_unsettled_figures_nudge_nothing(upside_down):
    _, grounds = upside_down
    few = grounds.made.estimate.model_copy(update={"cases": 29})
    unsettled = grounds.made.estimate.model_copy(update={"refused": "unsettled"})
    assert nudges_of(replace(grounds, made=replace(grounds.made, estimate=few))) == ()
    assert nudges_of(replace(grounds, made=replace(grounds.made, estimate=unsettled))) == ()
    assert nudges_of(replace(grounds, a_month=0)) == ()
    assert nudges_of(replace(grounds, a_month=0.1)) == (), "less than ten minutes a month"
    steps = tuple(one.model_copy(update={"refused": "too-few"}) for one in grounds.made.estimate.steps)
    unknown = grounds.made.estimate.model_copy(update={"steps": steps})
    assert nudges_of(replace(grounds, made=replace(grounds.made, estimate=unknown))) == ()


def test_work_that_is_not_wanted_any_more_is_left(upside_down):
    with pytest.raises(Stopped):
        nudges_of(upside_down[1], lambda: True)


def test_a_rule_of_the_draft_holds_back_what_would_break_it(upside_down):
    _, grounds = upside_down
    pinned = tuple(
        rung.model_copy(
            update={"pin": "first" if place == 0 else "last" if place == len(grounds.draft.ladder) - 1 else None}
        )
        for place, rung in enumerate(grounds.draft.ladder)
    )
    made = nudges_of(replace(grounds, draft=grounds.draft.model_copy(update={"ladder": pinned})))
    for nudge in made:
        steps = [rung.step for rung in nudge.ladder]
        assert steps[0] == pinned[0].step or pinned[0].step not in steps
        assert steps[-1] == pinned[-1].step or pinned[-1].step not in steps


def test_a_step_that_ends_nothing_on_one_sort_of_unit_is_tried_elsewhere_alone():
    desk = small_desk(5, is_flat=False)
    dead = "fix-0"
    split = Split(step=dead, fact="model", value="K2", tries=300, resolved=0, expected=90, z=-9, p=1e-9, level="sure")
    grounds = replace(grounds_of(desk), splits=(split,))
    told: list[Playbook] = []

    def refit(playbook: Playbook):
        told.append(playbook)
        return grounds_of(desk, playbook).made

    made = nudges_of(replace(grounds, refit=refit))
    step = told[0].step(dead)
    assert step.varies[0].when == 'model is "K2"'
    for nudge in made:
        if nudge.kind == "split":
            assert next(rung for rung in nudge.ladder if rung.step == dead).when == 'model is not "K2"'


def test_a_check_that_stands_last_and_changes_nothing_is_taken_out():
    desk = small_desk(6, is_flat=True)
    data = desk.playbook.model_dump(mode="json", by_alias=True, exclude_unset=True)
    find = [{"id": one, "title": one.title(), "given": {"*": 0.5}} for one in ("left", "right")]
    look = {"id": "look", "title": "Look", "kind": "check", "effort": {"hands_on": 9}, "findings": find}
    draft = Playbook.model_validate(
        {**data, "steps": [*data["steps"], look], "ladder": [*data["ladder"], {"step": "look"}]}
    )
    made = nudges_of(replace(grounds_of(desk), draft=draft))
    assert any((nudge.kind, nudge.steps) == ("drop", ("look",)) for nudge in made)


def counts(**changes):
    return {"fix-0": no_evidence("fix-0").model_copy(update=changes)}


@pytest.mark.parametrize(
    ("failed", "tried", "is_told"), [(0, 100, False), (30, 70, True), (3, 7, False), (18, 82, False)]
)
def test_a_text_is_at_fault_where_far_more_could_not_be_done_than_was_thought(upside_down, failed, tried, is_told):
    judge = Judge(upside_down[1].made, upside_down[1].draft, Told())
    made = list(hard_to_do(judge, counts(could_not=failed, tried=tried)))
    assert bool(made) is is_told
    if made:
        assert made[0].why == f"{failed} of {failed + tried} times it could not be done, or was not there"
        assert made[0].playbook.step("fix-0").done == pytest.approx(0.93)


def test_harm_that_nothing_eases_asks_for_a_safeguard_and_what_is_eased_does_not(upside_down):
    grounds = upside_down[1]
    hazard = {"kind": "data", "severity": 3, "chance": 0.02}
    data = grounds.draft.model_dump(mode="json", by_alias=True, exclude_unset=True)
    steps = [{**step, "hazards": [hazard]} if step["id"] == "fix-0" else step for step in data["steps"]]
    draft = Playbook.model_validate({**data, "steps": steps})
    harms = {"fix-0": HarmCount(100, {"data": 12})}
    judge = Judge(grounds.made, draft, Told(harms=harms))
    (made,) = unguarded(judge, harms, draft)
    assert made.why == "After 12 of 100 times something stored was lost; no step above it eases that"
    assert made.playbook.step("fix-0").hazards[0].chance == pytest.approx(
        judge.draft.step("fix-0").hazards[0].chance / 10
    )
    assert list(unguarded(judge, {"fix-0": HarmCount(100, {"data": 3})}, draft)) == []
    eased = {**hazard, "eased_by": "fix-1", "eased_to": 0.1}
    steps = [{**step, "hazards": [eased]} if step["id"] == "fix-0" else step for step in data["steps"]]
    guarded = Playbook.model_validate({**data, "steps": steps})
    assert list(unguarded(Judge(grounds.made, guarded, Told(harms=harms)), harms, guarded)) == []


def test_cures_that_come_back_far_more_than_others_do_not_count_in_full():
    others = no_evidence("fix-1").model_copy(update={"judged": 200, "held": 190})
    back = counts(judged=80, held=48)
    assert without_cures_that_come_back({**back, "fix-1": others}) == {"fix-0": pytest.approx(0.6)}
    assert without_cures_that_come_back({**counts(judged=5, held=3), "fix-1": others}) == {}


def with_minutes(grounds: Grounds, step: str, judged: float, median: float, is_off: bool = True) -> Grounds:
    took = LearnedMinutes(judged=judged, median=median, low=median * 0.9, high=median * 1.1, tries=80, is_off=is_off)
    return replace(grounds, minutes={step: took})


def test_a_step_that_takes_longer_than_judged_is_to_be_judged_anew_and_the_order_with_it():
    desk = best_desk(4)
    grounds = grounds_of(desk)
    first = desk.playbook.ladder[0].step
    judged = desk.playbook.step(first).effort.hands_on
    long = with_minutes(grounds, first, judged, 60.0)
    (told,) = [one for one in nudges_of(long) if one.kind == "regrade"]
    assert told.says == f"Judge the minutes of “{desk.playbook.step(first).title}” anew: 60, not 2"
    assert "Half of 80 tries took over 60 minutes (between 54 and 66)" in told.why
    assert "another order is the better one" in told.why
    assert told.saving.mean > 0
    assert told.ladder is None, "it is the step that is to be changed"
    # What is saved is what the best order for those minutes spares against the one that stands.
    apart = {one.change.kind: one for one in certain_changes(long)}["regrade"]
    slow = really(desk, long)
    slow = Judge(slow.made, apart.judge.draft, long.told)
    assert slow.worth(apart.change.playbook) == pytest.approx(float(apart.saves.mean()), rel=0.2)


def test_minutes_within_what_was_judged_are_left_alone_and_a_foot_rung_changes_no_order():
    desk = best_desk(4)
    grounds = grounds_of(desk)
    first, last = (desk.playbook.ladder[place].step for place in (0, -1))
    judged = desk.playbook.step(first).effort.hands_on
    assert not [
        one for one in nudges_of(with_minutes(grounds, first, judged, 2.2, is_off=False)) if one.kind == "regrade"
    ]
    (told,) = [one for one in certain_changes(with_minutes(grounds, last, 2.0, 3.5)) if one.change.kind == "regrade"]
    assert 0 <= told.saves.mean() < 0.2, "shown though next to nothing is gained by another order"


def hazardous(chance: float, eased: bool = False, severity: int = 3) -> tuple[Playbook, str]:
    desk = best_desk(4)
    step = desk.playbook.steps[0]
    guard = desk.playbook.steps[1].id
    hazard = {"kind": "data", "severity": severity, "chance": chance} | (
        {"eased_by": guard, "eased_to": 0.1} if eased else {}
    )
    changed = Step.model_validate({**step.model_dump(mode="json", exclude_unset=True), "hazards": [hazard]})
    steps = tuple(changed if one.id == step.id else one for one in desk.playbook.steps)
    return desk.playbook.model_copy(update={"steps": steps}), step.id


@pytest.mark.parametrize(
    ("chance", "is_eased", "seen", "asked", "is_told"),
    [
        (0.3, False, 5, 200, True),  # far rarer than judged
        (0.3, False, 5, 60, False),  # asked about too seldom to say so
        (0.3, False, 55, 200, False),  # about as judged
        (0.3, True, 8, 200, False),  # rarer, as eased as it may be
        (0.05, True, 60, 200, True),  # far more often, though a safeguard eases it
        (0.3, True, 40, 200, True),  # more often than a safeguard leaves of it
    ],
)
def test_harm_that_is_not_what_was_judged_is_to_be_judged_anew(chance, is_eased, seen, asked, is_told):
    playbook, step = hazardous(chance, is_eased)
    guard = playbook.step(step).hazards[0].eased_by
    told = Told(harms={step: HarmCount(asked, {"data": seen}, {guard: 1.0} if is_eased else {})})
    grounds = replace(grounds_of(best_desk(4), playbook), told=told)
    found = [one.change for one in certain_changes(grounds) if one.change.kind == "regrade"]
    assert bool(found) == is_told
    if found:
        assert found[0].says == f"Judge the harm of “{playbook.step(step).title}” anew"
        assert f"After {seen} of {asked} times" in found[0].why


@pytest.mark.parametrize(("severity", "kind"), [(1, "regrade"), (4, "safeguard")])
def test_harm_is_judged_anew_where_no_safeguard_is_worth_its_minutes(severity, kind):
    playbook, step = hazardous(0.1, severity=severity)
    told = Told(harms={step: HarmCount(200, {"data": 60})})
    found = [one.change for one in certain_changes(replace(grounds_of(best_desk(4), playbook), told=told))]
    assert [one.kind for one in found if one.kind in ("regrade", "safeguard")] == [kind]
