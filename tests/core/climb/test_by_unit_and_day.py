"""Texts that a step has on some units alone, what a state takes away, and the desk's own day."""

from dataclasses import replace
from datetime import timedelta

from mildladder.core.climb.machine import climb
from mildladder.core.climb.record import hand_off_text
from mildladder.core.figures.forecast import forecast
from mildladder.core.ladder.days import day_values
from mildladder.core.model import events as c
from mildladder.core.review import review
from mildladder.desk.guiding.climb_steps import current_step, filler_of, loose_end_views
from tests.core.climb.test_closing import FAILS, climbed, one_rung
from tests.core.climb.test_inside import then
from tests.samples import NOON

TODAY = day_values(NOON)["today"]
MARKED = TODAY.replace("-", r"\-")
QUIET = {"id": "quiet", "title": "Lane network off", "lost": ["lane-page", "console"], "enter": {}, "leave": {}}


def shown(now):
    return current_step(now, forecast(now.playbook), filler_of(now, {}))


def test_a_step_is_told_in_the_words_of_its_unit():
    texts = {
        "say": "The bar goes dark",
        "expect": "The bar turns {colour}",
        "missing": "No bar",
        "stuck": "Wait",
        "harmless": ["It clicks"],
        "beware": ["It is hot"],
        "guard": [{"ask": "Is the bar free?", "must": "yes", "else": "skipped"}],
    }
    more = {
        "expect": "The lamp turns steady",
        "guard": [{"ask": "Is the lane free?", "must": "yes", "else": "skipped"}],
        "inputs": [{"id": "colour", "ask": "Which colour?"}],
    }
    on_gr4 = climbed(one_rung({**more, "varies": [{"when": "model is GR4", **texts}]}), FAILS)
    assert (on_gr4.place, on_gr4.guard.ask) == ("guard", "Is the bar free?")
    asked = then(on_gr4, c.GuardAnswered(step="fix", number=0, answer="yes"))
    assert asked.asked_inside == ("colour",)
    step = shown(then(asked, c.FactGiven(fact="colour", value="green"))).step
    assert (step.expect, step.missing, step.stuck, step.say) == (
        "The bar turns green",
        "No bar",
        "Wait",
        "The bar goes dark",
    )
    assert (step.harmless, step.beware) == (("It clicks",), ("It is hot",))
    on_gr6 = climbed(one_rung({**more, "varies": [{"when": "model is GR6", **texts}]}), FAILS)
    assert on_gr6.guard.ask == "Is the lane free?"
    assert shown(on_gr6).step.expect == "The lamp turns steady"


def test_review_reads_the_texts_of_each_unit():
    variant = {"when": "model is GR6", "expect": "It shows {nothing-known}", "beware": ["Mind {The Lid}"]}
    found = {(one.code, one.where) for one in review(one_rung({"varies": [variant]}))}
    assert ("unfilled-value", "steps.0.varies.0.expect") in found
    assert ("brace-as-written", "steps.0.varies.0.beware.0") in found


def test_what_a_state_takes_away_is_said_where_it_is_entered_and_where_it_is_used():
    playbook = one_rung({"footing": "quiet", "uses": ["lane-page"]}, footings=[QUIET])
    view = shown(climbed(playbook, FAILS))
    assert view.before[0].without == ("lane page", "console")
    assert view.lacks == ("“lane page” is not there while “Lane network off” stands, and this step uses it",)
    warned = [one.says for one in review(playbook) if one.code == "uses-lost"]
    assert warned == ["“Fix it” uses “lane page”, which the state “Lane network off” takes away"]
    fine = one_rung({"footing": "quiet", "uses": ["phone"]}, footings=[QUIET])
    assert (shown(climbed(fine, FAILS)).lacks, [one for one in review(fine) if one.code == "uses-lost"]) == ((), [])


def test_the_day_needs_nobody_to_say_it_and_stands_in_commands():
    do = [{"text": "Name it {today}"}, {"text": "Run", "copy": "save counts-{month}"}]
    playbook = one_rung({"do": do, "undo": {"possible": "yes", "how": "Take {today} out", "after": "no-change"}})
    now = climbed(playbook, FAILS)
    assert (now.place, now.asked_inside) == ("step", ())
    text, command = shown(now).do
    assert (text.text, command.copy_text, command.waits_for) == (
        f"Name it **{MARKED}**",
        f"save counts-{TODAY[:7]}",
        (),
    )
    assert TODAY not in hand_off_text(now)
    left = then(now, c.Answered(step="fix", outcome="no-change"))
    assert loose_end_views(left, filler_of(left, {}))[0].do[0].text == f"Take **{MARKED}** out"
    assert not [one for one in review(playbook) if one.code == "unfilled-value"]


def test_a_value_of_the_playbook_that_is_called_today_is_asked_for():
    do = [{"text": "Name it {today}"}]
    now = climbed(one_rung({"do": do, "inputs": [{"id": "today", "ask": "Which day?"}]}), FAILS)
    assert now.asked_inside == ("today",)
    assert then(now, c.FactGiven(fact="today", value="Monday")).known["today"] == "Monday"


def test_the_day_is_that_of_the_look_and_of_the_end_once_it_has_ended():
    playbook = one_rung({"do": [{"text": "Name it {today}"}]})
    events = [c.ClimbEvent(at=NOON, who=1, move=move) for move in (c.Started(facts={"model": "GR4"}), FAILS)]
    now = climb(playbook, events)
    later = replace(now, looked_at=NOON + timedelta(days=3))
    assert later.known["today"] == day_values(NOON + timedelta(days=3))["today"] != TODAY
    ended = replace(then(now, c.Ended(end="abandoned")), looked_at=NOON + timedelta(days=3))
    assert ended.known["today"] == TODAY
