"""Bring playbooks and cases in, all or nothing, and take playbooks out."""

from collections.abc import Iterable
from datetime import datetime
from typing import Literal

from sqlalchemy.orm import Session

from mildladder.core.errors import Conflict
from mildladder.core.library import shared_half, with_shared_half
from mildladder.core.model import Case, Document, Playbook, Shape, Step
from mildladder.desk.drafts import EditionView, publish
from mildladder.desk.people import return_window
from mildladder.store import cases as case_store
from mildladder.store import documents as store

__all__ = ["CasesImported", "PlaybookImported", "StepChoice", "export_playbook", "import_cases", "import_playbook"]

StepChoice = Literal["library", "file"]


class PlaybookImported(Shape):
    """What bringing a playbook in did. `linked`: steps that the library had alike; `changed`: those that clashed."""

    playbook: str
    revision: int
    is_new: bool
    is_unchanged: bool
    new: tuple[str, ...]
    linked: tuple[str, ...]
    changed: tuple[str, ...]
    edition: int | None


class CasesImported(Shape):
    """How many cases were read, and what became of them."""

    read: int
    new: int
    updated: int
    unchanged: int


def import_playbook(
    session: Session, playbook: Playbook, who: str, now: datetime, steps: StepChoice | None, publish_note: str | None
) -> PlaybookImported:
    """Make the file's document the draft, as one undoable revision; publish it only with a note.

    steps: what to do where the library has a step of that id with another text: take the library's, or make the
    file's its next version. None: raises Conflict that lists them. A step of another kind is always a Conflict.
    """
    clashes = [step.id for step in playbook.steps if _clashes(session, step)]
    if clashes and steps is None:
        raise Conflict(
            f"the library has other texts of these steps: {', '.join(clashes)}; say which to keep with --steps library"
            " or --steps file"
        )
    result = []
    origins = {}
    new: list[str] = []
    linked: list[str] = []
    for step in playbook.steps:
        kept, version, is_new = _placed(session, step, steps == "library", who, now)
        result.append(kept)
        origins[step.id] = (step.id, version)
        (new if is_new else linked).append(step.id)
    document = Document(playbook=playbook.model_copy(update={"steps": tuple(result)}), origins=origins)
    revision, is_new, is_unchanged = _become_draft(session, document, who, now)
    edition = _publish(session, playbook.id, publish_note, revision, who, now)
    return PlaybookImported(
        playbook=playbook.id,
        revision=revision,
        is_new=is_new,
        is_unchanged=is_unchanged,
        new=tuple(step for step in new if step not in clashes),
        linked=tuple(step for step in linked if step not in clashes),
        changed=tuple(clashes),
        edition=edition.number if edition else None,
    )


def _clashes(session: Session, step: Step) -> bool:
    there = store.library_step(session, step.id)
    if there is None or there.shared == shared_half(step):
        return False
    if there.shared["kind"] != step.kind:
        raise Conflict(
            f"'{step.id}' is a {there.shared['kind']} in the library and a {step.kind} in the file; give it another id"
        )
    return True


def _placed(session: Session, step: Step, keep_library: bool, who: str, now: datetime) -> tuple[Step, int, bool]:
    """The step as the draft takes it, its library version, and whether that version is new."""
    there, shared = store.library_step(session, step.id), shared_half(step)
    if there is not None and there.shared == shared:
        return step, there.version, False
    if there is not None and keep_library:
        return with_shared_half(step, there.shared), there.version, False
    return step, store.add_library_version(session, step.id, shared, who, now), True


def _become_draft(session: Session, document: Document, who: str, now: datetime) -> tuple[int, bool, bool]:
    """The draft's revision, whether the playbook is new, and whether the draft was that document already."""
    is_new = document.playbook.id not in store.playbook_ids(session)
    if not is_new:
        current = store.newest_revision(session, document.playbook.id)
        if store.document_of(current) == document:
            return current.number, False, True
    if store.register_facts(session, document.playbook.facts):
        case_store.rebuild_tallies(session, now, return_window(session))
    return store.add_revision(session, document, "Brought in from a file", who, now).number, is_new, False


def _publish(
    session: Session, playbook_id: str, note: str | None, revision: int, who: str, now: datetime
) -> EditionView | None:
    return None if note is None else publish(session, playbook_id, note, revision, who, now)


def export_playbook(session: Session, playbook_id: str, from_draft: bool) -> Playbook:
    """The newest edition's document, or the draft's. Raises NotFound, and Conflict when nothing is published yet."""
    revision = store.newest_revision(session, playbook_id)
    if from_draft:
        return store.document_of(revision).playbook
    edition = store.newest_edition(session, playbook_id)
    if edition is None:
        raise Conflict(f"'{playbook_id}' has no edition yet; export its draft with --draft")
    return store.document_of(edition).playbook


def import_cases(session: Session, cases: Iterable[Case], origin: str, who: str, now: datetime) -> CasesImported:
    """Log every case, or none when one of them cannot be read."""
    counts = {"new": 0, "updated": 0, "unchanged": 0}
    window = return_window(session)
    case_store.fold_tallies(session, now.date(), window)
    for case in cases:
        counts[case_store.log_case(session, case, origin, who, now, window)] += 1
    return CasesImported(read=sum(counts.values()), **counts)
