"""Drafts, revisions, undo and redo on the real database, also read by another connection."""

import pytest

from mildladder.core.errors import Conflict, NotFound, Stale
from mildladder.desk import author, publish
from mildladder.desk.draft_view import DraftView
from mildladder.desk.editions import edition_list
from mildladder.desk.files import export_playbook, import_playbook
from mildladder.store.database import Database
from mildladder.store.drafts import newest_revision
from mildladder.store.editions import newest_edition
from tests.conftest import AGENT_ID, LEAD, LEAD_ID
from tests.samples import NOON, gate, gate_with_step, order_of

ID = "gate-arm-up"


def move(desk: Database, source: int, target: int, who: int = LEAD_ID) -> DraftView:
    with desk.writing() as session:
        revision = author.draft(session, ID).revision
        author.move(session, ID, source, target, False, revision, who, NOON)
        return author.draft(session, ID)


def undo(desk: Database, who: int = LEAD_ID, even_others: bool = False) -> DraftView:
    with desk.writing() as session:
        author.undo(session, ID, author.draft(session, ID).revision, even_others, who, NOON)
        return author.draft(session, ID)


def redo(desk: Database, who: int = LEAD_ID) -> DraftView:
    with desk.writing() as session:
        author.redo(session, ID, author.draft(session, ID).revision, False, who, NOON)
        return author.draft(session, ID)


def stored(desk: Database) -> DraftView:
    """The draft as another process would read it."""
    other = Database(desk.path)
    with other.reading() as session:
        view = author.draft(session, ID)
    other.close()
    return view


def test_a_move_is_kept_with_its_figures_and_its_label(desk):
    moved = move(desk, 1, 0)
    view = stored(desk)
    assert order_of(view.playbook)[:2] == ["clear-hold", "sensor-look"]
    assert view.forecast == moved.forecast
    assert view.saved.label == "Clear the hold-open setting moved from 2 to 1"
    assert not view.is_published


def test_undo_and_redo_go_along_the_line_also_for_another_process(desk):
    first = order_of(stored(desk).playbook)
    second = order_of(move(desk, 1, 0).playbook)
    third = order_of(move(desk, 4, 0).playbook)
    assert order_of(undo(desk).playbook) == second
    assert order_of(undo(desk).playbook) == first
    assert order_of(redo(desk).playbook) == second
    assert order_of(redo(desk).playbook) == third
    with pytest.raises(Conflict, match="nothing to redo"):
        redo(desk)


def test_a_new_edit_ends_redo(desk):
    move(desk, 1, 0)
    undo(desk)
    move(desk, 4, 0)
    assert stored(desk).redo is None


def test_a_new_edition_ends_redo(desk):
    move(desk, 1, 0)
    move(desk, 4, 0)
    undo(desk)
    assert stored(desk).redo is not None
    with desk.writing() as session:
        publish.publish(session, ID, "Second", author.draft(session, ID).revision, LEAD_ID, NOON)
    assert stored(desk).redo is None


def test_the_first_revision_cannot_be_undone(desk):
    with pytest.raises(Conflict, match="nothing to undo"):
        undo(desk)


def test_somebody_elses_change_is_undone_only_when_that_is_said(desk):
    move(desk, 1, 0, who=AGENT_ID)
    with pytest.raises(Conflict, match="I. Vell's change"):
        undo(desk)
    assert undo(desk, even_others=True).saved.who == LEAD


def test_a_stale_save_changes_nothing_and_tells_the_newest_revision(desk):
    with desk.writing() as session:
        old = author.draft(session, ID).revision
    newest = move(desk, 1, 0).revision
    with pytest.raises(Stale) as stale, desk.writing() as session:
        author.move(session, ID, 4, 0, False, old, LEAD_ID, NOON)
    assert stale.value.current == newest
    assert stored(desk).revision == newest


def test_publishing_freezes_document_and_figures(desk):
    with pytest.raises(Conflict, match="nothing has changed since edition 1"), desk.writing() as session:
        publish.publish(session, ID, "Again", author.draft(session, ID).revision, LEAD_ID, NOON)
    moved = move(desk, 1, 0)
    with desk.writing() as session:
        edition = publish.publish(session, ID, "Setting first", moved.revision, LEAD_ID, NOON)
    assert (edition.number, edition.forecast) == (2, moved.forecast)
    move(desk, 1, 0)
    with desk.reading() as session:
        assert order_of(export_playbook(session, ID, False)) == order_of(moved.playbook)
        assert [e.note for e in edition_list(session, ID)] == ["Setting first", "First edition"]


def test_a_broken_rule_stops_publishing(desk):
    wrong = gate(ladder=[{"step": "reload-program"}, {"step": "save-counts"}])
    with desk.writing() as session:
        author.save(session, wrong, "Turned round", 1, LEAD_ID, NOON)
        saved = author.draft(session, ID)
        assert [one.says for one in saved.review if one.level == "blocker"] == [
            "“Save the passage counts” must stand above “Load the lane unit's program again”, which it protects"
        ]
        with pytest.raises(Conflict, match="cannot be published"):
            publish.publish(session, ID, "Wrong", saved.revision, LEAD_ID, NOON)


def test_saving_the_same_document_makes_no_revision(desk):
    with desk.writing() as session:
        assert author.save(session, gate(), "Nothing", 1, LEAD_ID, NOON).number == 1


def test_an_import_replaces_the_draft_as_one_undoable_revision(desk):
    move(desk, 1, 0)
    with desk.writing() as session:
        done = import_playbook(session, gate(title="Gate arm is up"), LEAD_ID, NOON, None, None)
    assert (done.is_new, done.edition, len(done.linked)) == (False, None, 5)
    assert stored(desk).playbook.title == "Gate arm is up"
    assert undo(desk).playbook.title == "Gate arm stays raised"


def test_a_step_with_another_text_than_the_librarys_asks_which_to_keep(desk):
    changed = gate_with_step("clear-hold", title="Take the hold off")
    with pytest.raises(Conflict, match="other texts of these steps: clear-hold"), desk.writing() as session:
        import_playbook(session, changed, LEAD_ID, NOON, None, None)
    assert stored(desk).playbook == gate()
    with desk.writing() as session:
        import_playbook(session, changed, LEAD_ID, NOON, "library", None)
    assert stored(desk).playbook.step("clear-hold").title == "Clear the hold-open setting"
    with desk.writing() as session:
        import_playbook(session, changed, LEAD_ID, NOON, "file", None)
    assert stored(desk).playbook.step("clear-hold").title == "Take the hold off"


def test_a_step_of_another_kind_is_never_merged(desk):
    with pytest.raises(Conflict, match="only a separate id"), desk.writing() as session:
        import_playbook(session, gate_with_step("wave-through", kind="fix"), LEAD_ID, NOON, "file", None)


def test_a_fact_keeps_its_type_and_unites_its_choices(desk):
    facts = [{"id": "model", "ask": "Which?", "type": "choice", "choices": {"GR4": 0.5, "GR8": 0.5}}]
    with desk.writing() as session:
        import_playbook(session, gate(id="other", facts=facts), LEAD_ID, NOON, None, None)


def test_a_playbook_that_is_not_there_is_not_found(desk):
    with pytest.raises(NotFound, match="there is no playbook 'nothing'"), desk.reading() as session:
        author.draft(session, "nothing")


def test_one_more_key_in_a_stored_forecast_stops_nothing(desk, client):
    with desk.writing() as session:
        row = newest_edition(session, ID)
        row.forecast = {**row.forecast, "luck": 0.5, "rungs": [{**rung, "luck": 1} for rung in row.forecast["rungs"]]}
    assert client.get("/api/symptoms").status_code == 200
    assert client.get(f"/api/playbooks/{ID}/editions").json["editions"][0]["forecast"]["rungs"]


def test_a_document_that_cannot_be_read_is_told_in_plain_words(desk, client):
    with desk.writing() as session:
        row = newest_revision(session, ID)
        row.document = {**row.document, "shape": 99}
    answer = client.get(f"/api/playbooks/{ID}/draft")
    assert (answer.status_code, "newer version" in answer.json["detail"]) == (503, True)
