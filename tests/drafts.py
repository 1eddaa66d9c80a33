"""Drafts changed and looked at without HTTP, for tests that are about something else."""

from datetime import datetime
from typing import NamedTuple

from sqlalchemy.orm import Session

from mildladder.core.draft.groups import undoable
from mildladder.core.ladder.moves import reordered
from mildladder.core.model import Document, Playbook
from mildladder.desk.drafts.draft_view import DraftView, figures_of
from mildladder.desk.drafts.drafting import Sender, become, take, undo_operations
from mildladder.store.database import Database
from mildladder.store.documents import document_of
from mildladder.store.drafts import groups_of, newest_revision
from mildladder.store.tables import RevisionRow
from tests.conftest import LEAD_ID
from tests.samples import NOON

ID = "gate-arm-up"


def replace(session: Session, playbook: Playbook, who: int = LEAD_ID, at: datetime = NOON) -> RevisionRow:
    """Make a document the draft, its steps' origins as they were."""
    before = document_of(newest_revision(session, playbook.id))
    steps = {step.id for step in playbook.steps}
    origins = {step: origin for step, origin in before.origins.items() if step in steps}
    document = Document(playbook=playbook, origins=origins, pictures=before.pictures)
    return become(session, document, None, who, at)


def move(session: Session, source: int, target: int, who: int = LEAD_ID, at: datetime = NOON) -> RevisionRow:
    """Move a rung of the sample's main line."""
    playbook = document_of(newest_revision(session, ID)).playbook
    order = list(range(len(playbook.ladder)))
    order.insert(target, order.pop(source))
    return replace(session, reordered(playbook, order), who, at)


class Undone(NamedTuple):
    """The group that was undone, and the revision that this made."""

    group: str
    row: RevisionRow | None


def undo(session: Session, playbook_id: str = ID, who: int = LEAD_ID, at: datetime = NOON) -> Undone:
    """Take back somebody's newest group."""
    found = undoable(groups_of(session, playbook_id, who))
    assert found is not None, "there is nothing to undo"
    operations, label = undo_operations(session, playbook_id, found.name, who)
    number = newest_revision(session, playbook_id).number
    sender = Sender("undoing1", number, f"undoing-{number}", who)
    return Undone(found.name, take(session, playbook_id, sender, operations, at, label, found.name, True).row)


def draft(desk: Database, playbook: str = ID) -> DraftView:
    """The draft's figures as another process reads them."""
    other = Database(desk.path)
    with other.reading() as session:
        view = figures_of(session, playbook)
    other.close()
    return view
