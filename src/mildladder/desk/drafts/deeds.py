"""What the desk itself does to a draft when it is asked: take an order, mend, take newer text, bring an edition back.

Each is worked out on the newest tree, and becomes an edit like any other.
"""

from datetime import datetime

from sqlalchemy.orm import Session

from mildladder.core.draft.apply import Operation
from mildladder.core.draft.arrange import arranged
from mildladder.core.draft.difference import difference
from mildladder.core.draft.labels import title_of
from mildladder.core.draft.renaming import value_renamed
from mildladder.core.draft.shape import ROOT
from mildladder.core.errors import Conflict, NotFound
from mildladder.core.ladder.halves import with_shared_half
from mildladder.core.model import Document, Playbook
from mildladder.core.model.sending import (
    BringBack,
    Deed,
    Everywhere,
    Mending,
    Ordering,
    PutIn,
    RenameValue,
    Suggesting,
    TakeNewer,
)
from mildladder.core.review import mended
from mildladder.core.texts import shortened
from mildladder.desk.drafts.drafting import new_key, plain
from mildladder.desk.drafts.reviewing import known_links
from mildladder.desk.drafts.shared_steps import everywhere, insert_shared_step
from mildladder.store import drafts as store
from mildladder.store import library
from mildladder.store.documents import document_of, sound_of
from mildladder.store.editions import edition

_MOST_LABEL = 300

__all__ = ["label_of_deed", "newer_text", "operations_of"]


def operations_of(session: Session, playbook_id: str, deed: Deed, who: int, now: datetime) -> list[Operation]:
    """What does the deed on the draft as it stands. Raises NotFound, Conflict, BadInput."""
    number = store.newest_revision(session, playbook_id).number
    root = store.form_at(session, playbook_id, number)
    match deed:
        case Ordering():
            return arranged(root, ROOT, ("ladder",), deed.order, deed.left_out, new_key)
        case BringBack():
            return difference(root, plain(document_of(edition(session, playbook_id, deed.edition))), new_key)
        case Suggesting():
            return _suggested(session, playbook_id, deed)
        case RenameValue():
            return value_renamed(root, deed.fact, deed.was, deed.to)
        case PutIn():
            return insert_shared_step(session, playbook_id, deed)
        case Everywhere():
            return everywhere(session, playbook_id, deed, who, now)
    sound = sound_of(session, playbook_id, number)
    if sound.document is None:
        raise Conflict("mend what is wrong with the playbook itself first; it is told where it stands")
    document = (
        _mended(session, sound.document, deed)
        if isinstance(deed, Mending)
        else newer_text(session, sound.document, deed.step)
    )
    return difference(sound.root, plain(document), new_key)


def label_of_deed(session: Session, playbook_id: str, deed: Deed) -> str:
    """What the deed is called in the list of what was done."""
    match deed:
        case Ordering():
            return "Another order taken"
        case BringBack():
            return f"Edition {deed.edition} brought back"
        case Suggesting():
            return shortened(deed.says, _MOST_LABEL)
        case TakeNewer():
            document = document_of(store.newest_revision(session, playbook_id))
            titles = {step.id: step.title for step in document.playbook.steps}
            return f"Newer text of {titles.get(deed.step, 'a step')} taken"
        case RenameValue():
            return f"“{deed.was}” called “{deed.to}”"
        case PutIn():
            return f"“{_library_title(session, deed.step)}” put in from the library"
        case Everywhere():
            tree = store.tree_at(session, playbook_id, store.newest_revision(session, playbook_id).number)
            return f"“{title_of(tree, deed.step)}” made the library's text"
        case Mending():
            document = document_of(store.newest_revision(session, playbook_id))
            return mended(document.playbook, deed.code, deed.finding, known_links(session, document.playbook))[1]


def _library_title(session: Session, step_id: str) -> str:
    row = library.library_step(session, step_id)
    return str(row.shared["title"]) if row is not None else "A step"


def _suggested(session: Session, playbook_id: str, deed: Suggesting) -> list[Operation]:
    """What the suggestion changes of the draft that it was made for; what others have done since stays."""
    sound = sound_of(session, playbook_id, deed.revision)
    if sound.document is None:
        raise Conflict("that suggestion was made for a draft that is no more; look at the suggestions again")
    newest = sound_of(session, playbook_id, store.newest_revision(session, playbook_id).number).document
    if newest is not None and _with_suggested(newest.playbook, deed) == newest.playbook:
        raise Conflict("that is in the draft already")
    changed = sound.document.model_copy(update={"playbook": _with_suggested(sound.document.playbook, deed)})
    return difference(sound.root, plain(changed), new_key)


def _with_suggested(playbook: Playbook, deed: Suggesting) -> Playbook:
    given = deed.steps
    steps = (*(given.pop(step.id, step) for step in playbook.steps), *given.values())
    return playbook.model_copy(update={"ladder": deed.ladder, "steps": steps})


def _mended(session: Session, document: Document, deed: Mending) -> Document:
    links = known_links(session, document.playbook)
    playbook, _ = mended(document.playbook, deed.code, deed.finding, links)
    return document.model_copy(update={"playbook": playbook})


def newer_text(session: Session, document: Document, step_id: str) -> Document:
    """The document with the library's newest text of a step. Raises NotFound when it has no such step, Conflict when
    nothing newer waits."""
    if step_id not in document.origins:
        raise NotFound(f"the draft of '{document.playbook.id}' has no step '{step_id}' from the library")
    origin, version = document.origins[step_id]
    newest = library.library_step(session, origin)
    if newest is None or newest.version <= version:
        raise Conflict(f"no newer text of '{step_id}' waits")
    steps = tuple(
        with_shared_half(step, newest.shared) if step.id == step_id else step for step in document.playbook.steps
    )
    return document.model_copy(
        update={
            "playbook": document.playbook.model_copy(update={"steps": steps}),
            "origins": {**document.origins, step_id: (origin, newest.version)},
        }
    )
