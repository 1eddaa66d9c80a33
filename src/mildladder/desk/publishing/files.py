"""Bring playbook files in, all or nothing, and take playbooks out."""

import json
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import NamedTuple

from sqlalchemy.orm import Session

from mildladder.core.draft.publishing import free_name, naming_operations
from mildladder.core.errors import BadInput, Conflict, LadderError, raise_all
from mildladder.core.figures.forecast import forecast
from mildladder.core.ladder.halves import shared_half, with_shared_half
from mildladder.core.ladder.soundness import check
from mildladder.core.ladder.work import check_work
from mildladder.core.model import FORMAT, Document, Playbook, Shape, Step
from mildladder.desk.drafts.drafting import become
from mildladder.desk.library.facts import know_facts
from mildladder.desk.publishing.clashes import (
    Absent,
    Alike,
    Copies,
    ImportPreview,
    StepChoice,
    as_drafted,
    choices,
    preview_import,
    with_copies,
)
from mildladder.desk.publishing.publish import name_new, publish, refuse_flaws
from mildladder.exchange.pictures import (
    Picture,
    is_archive,
    picture_paths,
    pictures_in,
    read_archive,
    write_archive,
)
from mildladder.exchange.playbook_file import playbook_data, read_playbook_file, write_playbook
from mildladder.store import drafts, editions, library
from mildladder.store.database import Database
from mildladder.store.documents import document_of
from mildladder.store.library import fact_types
from mildladder.store.pictures import keep_picture, picture

__all__ = [
    "Brought",
    "PlaybookImported",
    "draft_to_export",
    "export_archive",
    "export_playbook",
    "import_batch",
    "import_playbook",
    "new_playbook",
    "playbook_text",
    "read_brought",
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
    said = as_drafted(brought.playbook)
    check(said)
    check_work(said)
    forecast(said)
    playbook, copied = with_copies(session, said, chosen, copies)
    placed = _placed(session, playbook.steps, chosen)
    placed_playbook = playbook.model_copy(update={"steps": placed.steps})
    shown = _shown_pictures(session, placed_playbook, brought.pictures)
    document = Document(playbook=placed_playbook, origins=placed.origins, **({"pictures": shown} if shown else {}))
    # Nothing is written before this: from the first writing on, the database is held.
    revision, is_unchanged = _become_draft(session, document, who, now)
    library.add_texts(session, placed.new, who, now)
    for shown_one in brought.pictures.values():
        if shown_one.digest in shown.values():
            keep_picture(session, shown_one.digest, shown_one.media, shown_one.data)
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


def _shown_pictures(session: Session, playbook: Playbook, brought: Mapping[str, Picture]) -> dict[str, str]:
    """Digest by path of every picture that the document shows. Raises BadInput for one that is nowhere."""
    is_new = playbook.id not in drafts.playbook_ids(session)
    before = {} if is_new else document_of(drafts.newest_revision(session, playbook.id)).pictures
    shown = {}
    for path in picture_paths(playbook):
        if path in brought:
            shown[path] = brought[path].digest
        elif path in before:
            shown[path] = before[path]
        else:
            raise BadInput(f"the picture '{path}' is not there; lay it beside the file, or into its archive")
    return shown


class _Placed(NamedTuple):
    """Steps as a draft takes them. origins: the library's version of each; new: texts that the library is to have."""

    steps: tuple[Step, ...]
    origins: dict[str, tuple[str, int]]
    new: dict[str, library.LibraryText]


def _placed(session: Session, steps: Sequence[Step], chosen: Mapping[str, StepChoice]) -> _Placed:
    there = library.newest_texts(session, [step.id for step in steps])
    placed: list[Step] = []
    origins: dict[str, tuple[str, int]] = {}
    new: dict[str, library.LibraryText] = {}
    for step in steps:
        known, shared = there.get(step.id), shared_half(step)
        version = known.version if known is not None else 0
        if known is not None and known.shared != shared and chosen.get(step.id) == "library":
            step = with_shared_half(step, known.shared)
        elif known is None or known.shared != shared:
            version += 1
            new[step.id] = library.LibraryText(version, shared)
        placed.append(step)
        origins[step.id] = (step.id, version)
    return _Placed(tuple(placed), origins, new)


def _become_draft(session: Session, document: Document, who: int, now: datetime) -> tuple[int, bool]:
    """The draft's revision, and whether the draft was that document already."""
    number = None
    if document.playbook.id in drafts.playbook_ids(session):
        current = drafts.newest_revision(session, document.playbook.id)
        number = current.number
    know_facts(session, document.playbook.facts, who, now)
    row = become(session, document, "Brought in from a file", who, now)
    return row.number, row.number == number


def read_brought(raw: bytes) -> Brought:
    """A playbook file, or an archive of one with its pictures, as it came by an address. Raises BadInput."""
    if not is_archive(raw):
        read = read_playbook_file(raw)
        return Brought(read.playbook, {}, read.wrong)
    inner, name, files = read_archive(raw)
    read = read_playbook_file(inner, name)
    return Brought(read.playbook, pictures_in(read.playbook, files, name), read.wrong)


def new_playbook(session: Session, title: str, who: int, now: datetime) -> str:
    """Make a playbook with a title and nothing else that anybody knows yet; its id. Raises BadInput for no title."""
    name = free_name(title, drafts.playbook_ids(session))
    playbook = Playbook.model_validate(
        {
            "format": FORMAT,
            "id": name,
            "title": title,
            "symptom": {"says": title},
            "causes": [{"id": "not-known-yet", "title": "Not known yet", "layer": "outside"}],
            "steps": [],
            "ladder": [],
        }
    )
    become(session, Document(playbook=playbook, origins={}), "Begun", who, now)
    return name


def draft_to_export(database: Database, playbook_id: str, person: Callable[[Session], int], now: datetime) -> None:
    """See to it that each new thing of a draft has a name before it is read out; nothing is written otherwise."""
    with database.reading() as session:
        row = drafts.newest_revision(session, playbook_id)
        if not naming_operations(drafts.form_at(session, playbook_id, row.number)):
            return
    database.change(lambda session: name_new(session, playbook_id, person(session), now))


def export_playbook(session: Session, playbook_id: str, from_draft: bool) -> Playbook:
    """The newest edition's document, or the draft's. Raises NotFound, Conflict when nothing is published yet, and
    Unsound for a draft with flaws."""
    revision = drafts.newest_revision(session, playbook_id)
    if from_draft:
        refuse_flaws(session, revision, "written into a file")
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


def playbook_text(playbook: Playbook, as_json: bool) -> bytes:
    """The playbook file, as YAML or as JSON."""
    return json.dumps(playbook_data(playbook), ensure_ascii=False).encode() if as_json else write_playbook(playbook)
