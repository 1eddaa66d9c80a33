"""The step library on the real database: clashes and their choices, links, newer texts, merges, undo after a reload."""

import pytest

from mildladder.core.errors import BadInput, Conflict, NotFound
from mildladder.desk.drafts.deeds import newer_text
from mildladder.desk.drafts.drafting import become
from mildladder.desk.evidence.symptom import evidence
from mildladder.desk.library.steps import library_steps, merge_steps
from mildladder.desk.log.intake import import_cases
from mildladder.desk.publishing.clashes import preview_import
from mildladder.desk.publishing.files import import_playbook
from mildladder.store.database import Database
from mildladder.store.documents import document_of
from mildladder.store.drafts import newest_revision
from tests.conftest import LEAD_ID, SHELL
from tests.drafts import draft, undo
from tests.samples import GATE, NOON, case, gate, order_of

ID = "gate-arm-up"


def changed(step_id: str, playbook: str = "other", **changes):
    """Another playbook that has one of the sample's steps with another text."""
    steps = [{**step, **changes} if step["id"] == step_id else step for step in GATE["steps"]]
    return gate(id=playbook, steps=steps)


def bring(desk: Database, playbook, steps=None, note=None, **each):
    with desk.writing() as session:
        chosen = {name.replace("_", "-"): way for name, way in each.items()}
        return import_playbook(session, playbook, LEAD_ID, NOON, steps, note, chosen)


def test_a_preview_says_what_would_change_and_changes_nothing(desk):
    wanted = changed("clear-hold", title="Take the hold off", kind="fix")
    with desk.reading() as session:
        preview = preview_import(session, wanted)
        assert preview.is_new
        assert [(clash.step, clash.keys, clash.used_in) for clash in preview.clashes] == [
            ("clear-hold", ("title",), (ID,))
        ]
        assert len(preview.linked) == 4
        assert [step.id for step in library_steps(session)].count("clear-hold") == 1
    with pytest.raises(NotFound):
        draft(desk, "other")


def test_local_halves_never_clash(desk):
    fixes = {"sensor-dirty": 0.7}
    footings = [{"id": "open", "title": "Open", "enter": {}, "leave": {}}]
    steps = [
        {**step, "fixes": fixes, "footing": "open"} if step["id"] == "clear-hold" else step for step in GATE["steps"]
    ]
    done = bring(desk, gate(id="other", steps=steps, footings=footings))
    assert (done.changed, len(done.linked)) == ((), 5)
    assert draft(desk, "other").playbook.step("clear-hold").fixes == fixes


def test_each_clash_may_be_settled_in_its_own_way(desk):
    steps = [{**step, "title": f"{step['title']}!"} for step in GATE["steps"]]
    done = bring(desk, gate(id="other", steps=steps), "library", clear_hold="copy", sensor_look="file")
    view = draft(desk, "other").playbook
    assert done.copied == {"clear-hold": "clear-hold-2"}
    assert order_of(view) == ["sensor-look", "clear-hold-2", "save-counts", "reload-program", "wave-through"]
    titles = {step.id: step.title for step in view.steps}
    assert titles["clear-hold-2"] == "Clear the hold-open setting!"
    assert titles["save-counts"] == "Save the passage counts"
    assert titles["sensor-look"] == "Read the home sensor!"


def test_a_copied_step_is_renamed_wherever_the_document_speaks_of_it(desk):
    steps = [{**step, "title": "Another"} if step["id"] == "save-counts" else step for step in GATE["steps"]]
    steps[1] = {**steps[1], "needs": ["save-counts"]}
    ladder = [
        {"step": "sensor-look", "on": {"blocked": [{"step": "save-counts"}]}},
        {"step": "save-counts"},
        {"step": "reload-program", "when": "model is GR4 and not earlier resolved by save-counts within 30 days"},
    ]
    bring(desk, gate(id="other", steps=steps, ladder=ladder), "copy")
    view = draft(desk, "other").playbook
    new = "save-counts-2"
    assert view.step("reload-program").hazards[0].eased_by == new
    assert view.ladder[0].on["blocked"][0].step == new
    assert view.ladder[2].when == f"model is GR4 and not earlier resolved by {new} within 30 days"
    assert (new in order_of(view), "save-counts" in {step.id for step in view.steps}) == (True, False)


def test_a_step_of_another_kind_gets_a_separate_id_or_none(desk):
    other = changed("save-counts", kind="prevention")
    other = other.model_copy(update={"ladder": other.ladder[:2]})
    steps = [step for step in other.steps if step.id != "reload-program"]
    other = other.model_copy(update={"steps": tuple(steps)})
    for way in ("library", "file"):
        with pytest.raises(Conflict, match="only a separate id"):
            bring(desk, other, way)
    assert bring(desk, other, "copy").copied == {"save-counts": "save-counts-2"}


def test_a_choice_for_what_does_not_clash_is_refused(desk):
    with pytest.raises(BadInput, match="clashes with nothing"):
        bring(desk, changed("clear-hold", title="X"), "file", wave_through="copy")
    with pytest.raises(NotFound):
        draft(desk, "other")


def test_a_newer_text_waits_is_taken_and_undone_also_after_a_reload(desk):
    bring(desk, changed("clear-hold", title="Take the hold off", fixes={"sensor-dirty": 0.3}), "file")
    view = draft(desk)
    assert view.playbook.step("clear-hold").title == "Clear the hold-open setting"
    assert [(one.step, one.version, one.newest) for one in view.waiting] == [("clear-hold", 1, 2)]
    before = view.forecast
    with desk.writing() as session:
        newer = newer_text(session, document_of(newest_revision(session, ID)), "clear-hold")
        become(session, newer, None, LEAD_ID, NOON)
    taken = draft(desk)
    assert taken.playbook.step("clear-hold").title == "Take the hold off"
    assert taken.playbook.step("clear-hold").fixes == {"bad-setting": "nearly-always"}
    assert taken.waiting == ()
    assert taken.forecast == before
    with desk.writing() as session:
        undo(session)
    undone = draft(desk)
    assert undone.playbook == gate()
    assert [one.step for one in undone.waiting] == ["clear-hold"]
    with pytest.raises(Conflict, match="no newer text"), desk.writing() as session:
        newer_text(session, document_of(newest_revision(session, ID)), "wave-through")


def test_where_a_step_is_used(desk):
    bring(desk, gate(id="other"))
    with desk.reading() as session:
        used = {step.id: step.used_in for step in library_steps(session)}
    assert used["clear-hold"] == (ID, "other")


def test_a_merged_step_counts_as_the_other_and_logged_cases_stay(desk):
    extra = [*GATE["steps"], {"id": "hold-off", "title": "Hold off", "kind": "fix"}]
    bring(desk, gate(steps=extra))
    logged = case(1, ("hold-off", "fixed"), days_ago=40)
    with desk.writing() as session:
        import_cases(session, [logged, case(2, ("clear-hold", "no-change"))], "import", SHELL, NOON)
    with desk.writing() as session:
        assert merge_steps(session, "hold-off", "clear-hold", LEAD_ID, NOON) == [ID]
    with desk.writing() as session:
        import_cases(session, [case(3, ("hold-off", "fixed"))], "import", SHELL, NOON)
    with desk.reading() as session:
        rows = {row.step: row.counts for row in evidence(session, ID, NOON.date()).rows}
        assert (rows["clear-hold"].tried, rows["clear-hold"].resolved, rows["clear-hold"].held) == (3, 2, 1)
        assert rows.get("hold-off") is None
        merged = next(step for step in library_steps(session) if step.id == "clear-hold")
        assert merged.aliases == ("hold-off",)
    with pytest.raises(Conflict, match="merged already"), desk.writing() as session:
        merge_steps(session, "hold-off", "wave-through", LEAD_ID, NOON)
    with pytest.raises(Conflict, match="different kinds"), desk.writing() as session:
        merge_steps(session, "sensor-look", "wave-through", LEAD_ID, NOON)
    with pytest.raises(NotFound), desk.writing() as session:
        merge_steps(session, "nothing", "wave-through", LEAD_ID, NOON)


def test_two_files_that_define_a_step_differently_do_not_both_come_in(desk):
    bring(desk, changed("clear-hold", "first", title="One text"), "file")
    with pytest.raises(Conflict, match=r"clear-hold \(title\)"):
        bring(desk, changed("clear-hold", "second", title="Another text"))


def test_a_step_that_the_library_has_under_another_id_is_told(desk):
    steps = [{**step, "id": "hold-clear"} if step["id"] == "clear-hold" else step for step in GATE["steps"]]
    ladder = [{**rung, "step": "hold-clear"} if rung["step"] == "clear-hold" else rung for rung in GATE["ladder"]]
    with desk.reading() as session:
        shown = preview_import(session, gate(id="foreign", steps=steps, ladder=ladder))
    assert [(one.step, one.known_as) for one in shown.alike] == [("hold-clear", "clear-hold")]
