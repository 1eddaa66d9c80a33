"""Bring playbook files in, all or nothing, and take playbooks out."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime

from sqlalchemy.orm import Session

from mildladder.core.errors import BadInput, Conflict, LadderError, raise_all
from mildladder.core.figures.forecast import forecast
from mildladder.core.figures.work import check_work
from mildladder.core.ladder.halves import shared_half, with_shared_half
from mildladder.core.ladder.soundness import check
from mildladder.core.model import Document, Playbook, Shape, Step
from mildladder.desk.clashes import (
    Absent,
    Alike,
    Copies,
    ImportPreview,
    StepChoice,
    choices,
    preview_import,
    with_copies,
)
from mildladder.desk.facts import know_facts
from mildladder.desk.publish import publish
from mildladder.exchange.pictures import Picture, picture_paths, write_archive
from mildladder.exchange.playbook_file import write_playbook
from mildladder.store import drafts, editions, library
from mildladder.store.documents import document_of
from mildladder.store.library import fact_types
from mildladder.store.pictures import keep_picture, picture

__all__ = [
    "Brought",
    "PlaybookImported",
    "export_archive",
    "export_playbook",
    "import_batch",
    "import_playbook",
]


@dataclass
class Brought:
    """A playbook that is to come in, by the name of its file, with its pictures by path; one that the draft shows at
    that path already need not be brought again. wrong: words an error, told with its place in the file."""

    playbook: Playbook
    pictures: Mapping[str, Picture] = field(default_factory=dict)
    wrong: Callable[[str, str], BadInput] = lambda path, says: BadInput(says, path=path)


class PlaybookImported(Shape):
    """What bringing a playbook in did.

    linked: steps that the library had alike; changed: those that clashed; copied: clashing id -> its separate id;
    absent: what it names and nobody has.
    """

    playbook: str
    revision: int
    is_new: bool
    is_unchanged: bool
    new: tuple[str, ...]
    linked: tuple[str, ...]
    changed: tuple[str, ...]
    copied: dict[str, str]
    alike: tuple[Alike, ...]
    absent: tuple[Absent, ...]
    edition: int | None


def import_batch(
    session: Session,
    batch: Sequence[Brought],
    who: int,
    now: datetime,
    steps: StepChoice | None,
    publish_note: str | None,
    each: Mapping[str, StepChoice] | None = None,
) -> list[PlaybookImported]:
    """Bring several playbooks in, one after the other, as `import_playbook` does.

    Raises what is wrong with any of them, all at once; then nothing may be kept.
    """
    _refuse_other_facts(session, batch)
    copies: Copies = {}
    done: list[PlaybookImported] = []
    wrong: list[LadderError] = []
    clashing: set[str] = set()
    for brought in batch:
        try:
            preview = preview_import(session, brought.playbook, [one.playbook for one in batch])
            clashing |= {clash.step for clash in preview.clashes}
            done.append(_bring(session, brought, preview, choices(preview, steps, each or {}), copies, who, now))
        except LadderError as error:
            wrong.append(error)
    for step in set(each or ()) - clashing:
        says = f"'{step}' clashes with nothing; the clashes are: {', '.join(sorted(clashing)) or 'none'}"
        wrong.append(BadInput(says))
    raise_all(wrong)
    if publish_note is None:
        return done
    return [_published(session, one, publish_note, who, now) for one in done]


def import_playbook(
    session: Session,
    playbook: Playbook,
    who: int,
    now: datetime,
    steps: StepChoice | None,
    publish_note: str | None,
    each: Mapping[str, StepChoice] | None = None,
    pictures: Mapping[str, Picture] | None = None,
) -> PlaybookImported:
    """Make the file's document the draft, as one undoable revision; publish it only with a note.

    steps: what to do with a step that the library has with another text: take the library's text, make the file's its
    next version, or give the file's a separate id (copy). each: the same by step id, before `steps`. Raises Conflict
    that lists the clashes for which nothing was chosen; a step of another kind can only be copied.
    """
    return import_batch(session, [Brought(playbook, pictures or {})], who, now, steps, publish_note, each)[0]


def _refuse_other_facts(session: Session, batch: Sequence[Brought]) -> None:
    """Raises for every fact that has another type on this desk."""
    types = fact_types(session)
    raise_all(
        [
            brought.wrong(
                f"facts.{number}.type", f"'{fact.id}' is a {types[fact.id]} on this desk, not a {fact.type}; rename it"
            )
            for brought in batch
            for number, fact in enumerate(brought.playbook.facts)
            if types.get(fact.id, fact.type) != fact.type
        ]
    )


def _bring(
    session: Session,
    brought: Brought,
    preview: ImportPreview,
    chosen: Mapping[str, StepChoice],
    copies: Copies,
    who: int,
    now: datetime,
) -> PlaybookImported:
    check(brought.playbook)
    check_work(brought.playbook)
    forecast(brought.playbook)
    playbook, copied = with_copies(session, brought.playbook, chosen, copies)
    placed = []
    origins = {}
    for step in playbook.steps:
        kept, version = _placed(session, step, chosen.get(step.id) == "library", who, now)
        placed.append(kept)
        origins[step.id] = (step.id, version)
    placed_playbook = playbook.model_copy(update={"steps": tuple(placed)})
    shown = _kept_pictures(session, placed_playbook, brought.pictures)
    document = Document(playbook=placed_playbook, origins=origins, **({"pictures": shown} if shown else {}))
    revision, is_unchanged = _become_draft(session, document, who, now)
    return PlaybookImported(
        playbook=playbook.id,
        revision=revision,
        is_new=preview.is_new,
        is_unchanged=is_unchanged,
        new=preview.new,
        linked=preview.linked,
        changed=tuple(clash.step for clash in preview.clashes),
        copied=copied,
        alike=preview.alike,
        absent=preview.absent,
        edition=None,
    )


def _published(session: Session, done: PlaybookImported, note: str, who: int, now: datetime) -> PlaybookImported:
    edition = publish(session, done.playbook, note, done.revision, who, now)
    return done.model_copy(update={"edition": edition.number if edition else None})


def _kept_pictures(session: Session, playbook: Playbook, brought: Mapping[str, Picture]) -> dict[str, str]:
    """Digest by path of every picture that the document shows. Raises BadInput for one that is nowhere."""
    is_new = playbook.id not in drafts.playbook_ids(session)
    before = {} if is_new else document_of(drafts.newest_revision(session, playbook.id)).pictures
    shown = {}
    for path in picture_paths(playbook):
        if path in brought:
            picture = brought[path]
            keep_picture(session, picture.digest, picture.media, picture.data)
            shown[path] = picture.digest
        elif path in before:
            shown[path] = before[path]
        else:
            raise BadInput(f"the picture '{path}' is not there; lay it beside the file, or into its archive")
    return shown


def _placed(session: Session, step: Step, keep_library: bool, who: int, now: datetime) -> tuple[Step, int]:
    """The step as the draft takes it, and its library version."""
    there, shared = library.library_step(session, step.id), shared_half(step)
    if there is not None and there.shared == shared:
        return step, there.version
    if there is not None and keep_library:
        return with_shared_half(step, there.shared), there.version
    return step, library.add_library_version(session, step.id, shared, who, now)


def _become_draft(session: Session, document: Document, who: int, now: datetime) -> tuple[int, bool]:
    """The draft's revision, and whether the draft was that document already."""
    if document.playbook.id in drafts.playbook_ids(session):
        current = drafts.newest_revision(session, document.playbook.id)
        if document_of(current) == document:
            return current.number, True
    know_facts(session, document.playbook.facts, who, now)
    return drafts.add_revision(session, document, "Brought in from a file", who, now).number, False


def export_playbook(session: Session, playbook_id: str, from_draft: bool) -> Playbook:
    """The newest edition's document, or the draft's. Raises NotFound, and Conflict when nothing is published yet."""
    revision = drafts.newest_revision(session, playbook_id)
    if from_draft:
        return document_of(revision).playbook
    edition = editions.newest_edition(session, playbook_id)
    if edition is None:
        raise Conflict(f"'{playbook_id}' has no edition yet; export its draft with --draft")
    return document_of(edition).playbook


def export_archive(session: Session, playbook_id: str, from_draft: bool) -> bytes:
    """The same document with its pictures, as one archive. Raises as `export_playbook` does."""
    playbook = export_playbook(session, playbook_id, from_draft)
    source = (
        drafts.newest_revision(session, playbook_id) if from_draft else editions.newest_edition(session, playbook_id)
    )
    shown = document_of(source).pictures if source is not None else {}
    pictures = {path: picture(session, digest).data for path, digest in shown.items()}
    return write_archive(f"{playbook_id}.yaml", write_playbook(playbook), pictures)
