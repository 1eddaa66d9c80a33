"""The screen of a guided case: footings to go through, what is put back, what is tested together, where it goes on."""

from datetime import timedelta
from itertools import count

import pytest
from icalendar import Calendar

from mildladder.core.errors import Conflict
from mildladder.core.model import events as c
from mildladder.desk.guiding import climbs
from mildladder.desk.guiding.climbs import follow_up, look
from mildladder.desk.log.intake import import_cases
from mildladder.desk.publishing.files import export_playbook, import_playbook
from tests.conftest import LEAD_ID, SHELL
from tests.samples import GATE, NOON, case, gate

FOOTINGS = [
    {
        "id": "closed",
        "title": "Lane closed",
        "enter": {"do": [{"text": "Close it"}]},
        "leave": {"do": [{"text": "Open it"}]},
    },
    {"id": "open", "title": "Panel open", "within": "closed", "enter": {}, "leave": {}},
]


def start(session, playbook, started, name, who, now):
    """The case as it stands once it was opened; likewise below."""
    climbs.start(session, playbook, started, name, who, now)
    return look(session, name, NOON)


def go_on(session, name, new, who, now):
    climbs.go_on(session, name, new, who, now)
    return look(session, new, NOON)


def record(session, name, move, key, after, who, now):
    climbs.record(session, name, move, key, after, who, now)
    return look(session, name, NOON)


def rich(**changes):
    """The sample with footings, something to put back, and a rail that leads into another playbook."""
    more = {
        "clear-hold": {
            "footing": "open",
            "undo": {"possible": "yes", "how": "Set it again", "after": "no-change"},
            "do": [],
        },
        "reload-program": {"footing": "closed", "proves": "after-restart", "guard": [], "hazards": []},
        "wave-through": {"footing": "any"},
    }
    steps = [{**step, **more.get(step["id"], {})} for step in GATE["steps"]]
    ladder = [
        {"step": "sensor-look", "on": {"blocked": [{"playbook": "gate-no-power"}]}},
        {"step": "clear-hold"},
        {"step": "reload-program"},
        {"step": "wave-through"},
    ]
    return gate(id="rich", steps=steps, footings=FOOTINGS, ladder=ladder, **changes)


@pytest.fixture
def guide(desk):
    """Plays moves on a fresh case of the rich playbook and shows the screen after them."""
    with desk.writing() as session:
        import_playbook(session, rich(), LEAD_ID, NOON, "copy", "First")

    numbers = count(1000)

    def play(*moves: c.Move):
        name = f"climb-{next(numbers)}"
        with desk.writing() as session:
            view = start(session, "rich", c.Started(facts={"model": "GR4"}), name, LEAD_ID, NOON)
            for move in moves:
                view = record(session, name, move, f"key-{view.number:05}", view.number, LEAD_ID, NOON)
            assert look(session, name, NOON) == view
            return view

    return play


def titles(passages) -> list[str]:
    return [passage.title for passage in passages]


FAILS = c.BaselineSeen(result="fails")


def answered(step: str, **keys) -> c.Answered:
    return c.Answered(step=step, **keys)


def test_a_footing_is_entered_before_the_step_and_left_before_the_close(guide):
    view = guide(FAILS, answered("sensor-look", finding="clear"))
    assert titles(view.current.before) == ["First: Lane closed", "First: Panel open"]
    assert view.current.before[0].do[0].text == "Close it"
    step = view.current.step.id
    fixed = guide(FAILS, answered("sensor-look", finding="clear"), answered(step, outcome="fixed"))
    assert (fixed.place, titles(fixed.loose_ends)) == ("loose-end", ["Leave: Panel open", "Leave: Lane closed"])
    assert fixed.loose_ends[1].do[0].text == "Open it"


def test_what_did_not_help_is_put_back_and_only_the_inner_footing_is_left(guide):
    first = guide(FAILS, answered("sensor-look", finding="clear"))
    failed = [FAILS, answered("sensor-look", finding="clear"), answered(first.current.step.id, outcome="no-change")]
    back = guide(*failed)
    assert (back.place, back.way_out.title, back.current) == ("way-out", "Put back: Clear the hold-open setting", None)
    assert back.way_out.do[0].text == "Set it again"
    out = guide(*failed, back.answers[0].move)
    assert (out.place, out.way_out.title) == ("way-out", "Leave: Panel open")
    view = guide(*failed, back.answers[0].move, out.answers[0].move)
    assert (view.place, view.way_out, titles(view.current.before)) == ("step", None, [])
    assert view.current.retest == ("Restart the unit", "Ask for one pass to be read")


def test_a_rail_into_another_playbook_that_is_not_there_leads_to_the_default_team(guide):
    view = guide(FAILS, answered("sensor-look", finding="blocked"))
    assert (view.place, view.sent_on) == ("sent-on", "gate-no-power")
    assert [one.label for one in view.answers] == ["Hand off to Lane crew"]
    handed = guide(FAILS, answered("sensor-look", finding="blocked"), view.answers[0].move)
    assert (handed.end, handed.sent_on) == ("handed-off", None)


def test_a_fact_that_is_still_open_asks_for_what_it_is(guide, desk):
    facts = [*GATE["facts"], {"id": "age", "ask": "How old is it?", "type": "number", "where": "On the plate"}]
    playbook = rich(facts=facts)
    ladder = [{"step": "wave-through", "when": "age above 3"}]
    aged = type(playbook).model_validate(
        {**playbook.model_dump(by_alias=True, exclude_unset=True), "id": "aged", "ladder": ladder}
    )
    with desk.writing() as session:
        import_playbook(session, aged, LEAD_ID, NOON, "copy", "First")
        view = start(session, "aged", c.Started(), "climb-0002", LEAD_ID, NOON)
        view = record(session, "climb-0002", FAILS, "key-00001", 1, LEAD_ID, NOON)
        assert (view.place, view.question.id, view.question.type, view.question.where) == (
            "fact",
            "age",
            "number",
            "On the plate",
        )
        view = record(session, "climb-0002", c.FactGiven(fact="age", value="2"), "key-00002", 2, LEAD_ID, NOON)
        assert view.place == "hand-off"
        assert view.path[0].says == "only where “How old is it?” is above 3"


def test_a_case_that_was_sent_on_goes_on_with_all_that_is_known(guide, desk):
    with desk.writing() as session:
        here = export_playbook(session, "rich", from_draft=False)
        ladder = tuple(rung.model_copy(update={"on": {}}) for rung in here.ladder)
        there = here.model_copy(update={"id": "gate-no-power", "ladder": ladder})
        import_playbook(session, there, LEAD_ID, NOON, None, "First")
    shared = here.ladder[2].step
    tried = c.TriedBefore(step=shared)
    note = c.Noted(text="The lamp blinks")
    sent = guide(note, tried, FAILS, answered("sensor-look", finding="blocked"))
    ended = guide(note, tried, FAILS, answered("sensor-look", finding="blocked"), sent.answers[0].move)
    with desk.writing() as session:
        on = go_on(session, ended.id, "climb-going-on", LEAD_ID, NOON)
        again = go_on(session, ended.id, "climb-going-on", LEAD_ID, NOON)
        assert again == on
        with pytest.raises(Conflict, match="was not sent on"):
            go_on(session, "climb-going-on", "climb-nowhere", LEAD_ID, NOON)
    assert (on.playbook, on.place) == ("gate-no-power", "baseline")
    assert [(known.fact, known.value) for known in on.known] == [("model", "GR4")]
    assert shared not in {step.id for step in on.untried}
    assert on.notes[0].startswith(f"Sent on from {ended.case}. Gate arm stays raised")
    assert "The lamp blinks" in on.notes[0]


def test_harm_is_asked_about_worst_first_and_while_a_step_is_watched(desk):
    hazards = [{"kind": kind, "severity": n, "chance": 0.01} for n, kind in enumerate(("service", "data", "data"), 1)]
    step = {"id": "watched", "title": "Watched", "kind": "fix", "watch": "PT4H", "hazards": hazards}
    playbook = gate(id="slow", steps=[step], ladder=[{"step": "watched"}])
    with desk.writing() as session:
        import_playbook(session, playbook, LEAD_ID, NOON, None, "First")
        views = [start(session, "slow", c.Started(facts={"model": "GR4"}), "climb-slow", LEAD_ID, NOON)]
        for move in (FAILS, c.Paused(reason="watch", minutes=60), c.Resumed(), c.Paused(reason="part")):
            views.append(record(session, "climb-slow", move, f"key-{len(views):05}", len(views), LEAD_ID, NOON))
    assert [view.place for view in views] == ["baseline", "step", "paused", "step", "paused"]
    assert [tuple(asked.kind for asked in view.harms) for view in views] == [
        (),
        ("data", "service"),
        ("data", "service"),
        ("data", "service"),
        (),
    ]
    assert [view.watch is not None for view in views] == [False, True, False, False, False]
    assert views[2].pause.watch.minutes == 60


def test_only_a_case_that_waits_until_a_set_time_has_a_follow_up(guide, desk):
    timed = guide(FAILS, c.Paused(reason="part", minutes=90))
    with desk.reading() as session:
        (event,) = Calendar.from_ical(follow_up(session, timed.id, "http://desk/")).walk("VEVENT")
    assert event.decoded("DTSTART") == NOON + timedelta(minutes=90)
    assert str(event["URL"]) == f"http://desk/climbs/{timed.id}"
    open_end = guide(FAILS, c.Paused(reason="part"))
    for view in (open_end, guide(FAILS)):
        with pytest.raises(Conflict, match="until a set time"), desk.reading() as session:
            follow_up(session, view.id, "http://desk/")


def test_a_guided_case_knows_what_its_unit_had_before(desk):
    fixed = ("clear-hold", "fixed")
    logged = [
        case(1, fixed, days_ago=20, unit="GR4-1"),
        case(2, days_ago=3, unit="GR4-1"),
        case(3, fixed, days_ago=1, unit="GR4-2"),
        case(4, fixed, days_ago=1, unit="GR4-1", symptom="other"),
    ]
    claimed = c.EarlierCase(case="X-1", closed=NOON, resolved_by="clear-hold")
    with desk.writing() as session:
        import_cases(session, logged, "import", SHELL, NOON)
        started = c.Started(unit="GR4-1", facts={"model": "GR4"}, history=(claimed,))
        view = start(session, "gate-arm-up", started, "climb-history", LEAD_ID, NOON)
        unknown = start(session, "gate-arm-up", c.Started(facts={"model": "GR4"}), "climb-without", LEAD_ID, NOON)
    assert [(one.case, one.ended_by) for one in view.history] == [("C-2", None), ("C-1", "Clear the hold-open setting")]
    assert unknown.history == ()
