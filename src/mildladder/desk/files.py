"""Bring playbook files in, all or nothing, and take playbooks out."""

import json
from collections.abc import Iterator, Mapping, Sequence
from datetime import datetime
from typing import Any, Literal

from sqlalchemy.orm import Session

from mildladder.core.errors import BadInput, Conflict
from mildladder.core.figures.forecast import forecast
from mildladder.core.figures.work import check_work
from mildladder.core.ladder.halves import shared_half, with_shared_half
from mildladder.core.ladder.rename import free_id, with_step_id
from mildladder.core.ladder.soundness import check
from mildladder.core.model import Document, Playbook, Shape, Step
from mildladder.desk.editions import EditionView
from mildladder.desk.facts import know_facts
from mildladder.desk.publish import publish
from mildladder.exchange.pictures import Picture, picture_paths, write_archive
from mildladder.exchange.playbook_file import write_playbook
from mildladder.store import drafts, editions, library
from mildladder.store.documents import document_of
from mildladder.store.pictures import keep_picture, picture

__all__ = [
    "Alike",
    "Clash",
    "ImportPreview",
    "PlaybookImported",
    "StepChoice",
    "check_batch",
    "export_archive",
    "export_playbook",
    "import_playbook",
    "preview_import",
]


StepChoice = Literal["library", "file", "copy"]


class Clash(Shape):
    """A step that the library has with another text. keys: what differs; kinds_differ: only a separate id will do."""

    step: str
    title: str
    keys: tuple[str, ...]
    kinds_differ: bool
    used_in: tuple[str, ...]


class Alike(Shape):
    """A step that the library has word for word under another id; brought in, it is counted apart."""

    step: str
    title: str
    known_as: str


class ImportPreview(Shape):
    """What bringing a playbook in would do: replace a draft, add steps to the library, link those that are alike.

    alike: new steps that the library has under other ids.
    """

    playbook: str
    is_new: bool
    is_unchanged: bool
    new: tuple[str, ...]
    linked: tuple[str, ...]
    clashes: tuple[Clash, ...]
    alike: tuple[Alike, ...]


class PlaybookImported(Shape):
    """What bringing a playbook in did.

    linked: steps that the library had alike; changed: those that clashed; copied: clashing id -> its separate id.
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
    edition: int | None


def check_batch(playbooks: Sequence[tuple[str, Playbook]]) -> None:
    """Refuse files of one batch, given with their names, that define a step or a playbook differently."""
    steps: dict[str, tuple[str, dict[str, Any]]] = {}
    ids: dict[str, str] = {}
    for name, playbook in playbooks:
        if playbook.id in ids:
            raise BadInput(f"'{playbook.id}' stands in {ids[playbook.id]} too; bring one of them", source=name)
        ids[playbook.id] = name
        for number, step in enumerate(playbook.steps):
            shared = shared_half(step)
            other, theirs = steps.setdefault(step.id, (name, shared))
            if theirs != shared:
                says = f"'{step.id}' has another text in {other}; make them alike, or give one of them another id"
                raise BadInput(says, path=f"steps.{number}", source=name)


def preview_import(session: Session, playbook: Playbook) -> ImportPreview:
    """What `import_playbook` would do, without doing it."""
    clashes = tuple(clash for step in playbook.steps if (clash := _clash(session, step)) is not None)
    clashing = {clash.step for clash in clashes}
    known = {step.id for step in playbook.steps if library.library_step(session, step.id) is not None}
    is_new = playbook.id not in drafts.playbook_ids(session)
    there = None if is_new else document_of(drafts.newest_revision(session, playbook.id)).playbook
    return ImportPreview(
        playbook=playbook.id,
        is_new=is_new,
        is_unchanged=there == playbook,
        new=tuple(step.id for step in playbook.steps if step.id not in known),
        linked=tuple(step.id for step in playbook.steps if step.id in known - clashing),
        clashes=clashes,
        alike=tuple(_alike(session, [step for step in playbook.steps if step.id not in known])),
    )


def _alike(session: Session, steps: Sequence[Step]) -> Iterator[Alike]:
    texts = {_text(row.shared): row.step_id for row in library.newest_library_steps(session)} if steps else {}
    for step in steps:
        known_as = texts.get(_text(shared_half(step)))
        if known_as is not None:
            yield Alike(step=step.id, title=step.title, known_as=known_as)


def _text(shared: Mapping[str, Any]) -> str:
    """The shared half without its id, to compare."""
    return json.dumps({key: value for key, value in shared.items() if key != "id"}, sort_keys=True)


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
    pictures: by path; one that the draft shows at that path already need not be brought again.
    """
    check(playbook)
    check_work(playbook)
    forecast(playbook)
    preview = preview_import(session, playbook)
    choices = _choices(preview, steps, each or {})
    playbook, copied = _with_copies(session, playbook, choices)
    placed = []
    origins = {}
    for step in playbook.steps:
        kept, version = _placed(session, step, choices.get(step.id) == "library", who, now)
        placed.append(kept)
        origins[step.id] = (step.id, version)
    placed_playbook = playbook.model_copy(update={"steps": tuple(placed)})
    shown = _kept_pictures(session, placed_playbook, pictures or {})
    document = Document(playbook=placed_playbook, origins=origins, **({"pictures": shown} if shown else {}))
    revision, is_unchanged = _become_draft(session, document, who, now)
    edition = _publish(session, playbook.id, publish_note, revision, who, now)
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
        edition=edition.number if edition else None,
    )


def _clash(session: Session, step: Step) -> Clash | None:
    there, mine = library.library_step(session, step.id), shared_half(step)
    if there is None or there.shared == mine:
        return None
    keys = tuple(key for key in {**there.shared, **mine} if there.shared.get(key) != mine.get(key))
    return Clash(
        step=step.id,
        title=step.title,
        keys=keys,
        kinds_differ="kind" in keys,
        used_in=tuple(drafts.playbooks_using(session, step.id)),
    )


def _choices(preview: ImportPreview, steps: StepChoice | None, each: Mapping[str, StepChoice]) -> dict[str, StepChoice]:
    clashing = {clash.step: clash for clash in preview.clashes}
    for step in each:
        if step not in clashing:
            raise BadInput(f"'{step}' clashes with nothing; the clashes are: {', '.join(clashing) or 'none'}")
    chosen: dict[str, StepChoice] = {}
    left: list[str] = []
    for step, clash in clashing.items():
        choice = each.get(step, steps)
        if choice is None:
            left.append(f"{step} ({', '.join(clash.keys)})")
        elif clash.kinds_differ and choice != "copy":
            raise Conflict(
                f"'{step}' is of another kind in the library; only a separate id will do: choose copy for it"
            )
        else:
            chosen[step] = choice
    if left:
        raise Conflict(
            f"the library has other texts of these steps: {'; '.join(left)}. Say which to keep with --steps library,"
            " --steps file or --steps copy"
        )
    return chosen


def _with_copies(
    session: Session, playbook: Playbook, choices: Mapping[str, StepChoice]
) -> tuple[Playbook, dict[str, str]]:
    copied = {}
    taken = set(library.library_ids(session)) | {step.id for step in playbook.steps}
    for step, choice in choices.items():
        if choice == "copy":
            copied[step] = free_id(step, taken)
            taken.add(copied[step])
            playbook = with_step_id(playbook, step, copied[step])
    return playbook, copied


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


def _publish(
    session: Session, playbook_id: str, note: str | None, revision: int, who: int, now: datetime
) -> EditionView | None:
    return None if note is None else publish(session, playbook_id, note, revision, who, now)


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
