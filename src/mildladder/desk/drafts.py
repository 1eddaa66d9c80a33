"""Author a playbook: see the draft with its figures, change it, undo and redo, and publish it as an edition."""

import hashlib
import json
from collections.abc import Sequence
from datetime import datetime
from typing import Literal

from sqlalchemy.orm import Session

from mildladder.core.errors import BadInput, Conflict, Stale
from mildladder.core.figures.forecast import Forecast, forecast
from mildladder.core.figures.judgement import effort_minutes, elapsed_minutes, harm_points, risk_grade, search_rounds
from mildladder.core.ladder.bonds import Bond, bonds, move_rung
from mildladder.core.ladder.soundness import check
from mildladder.core.ladder.walk import RowOfLadder, rows_of
from mildladder.core.model import Document, Effort, HandOffRef, Person, Playbook, PlaybookRef, Rung, Shape, Step
from mildladder.core.review import ReviewFinding, review
from mildladder.desk.reviewing import document, known_links, mend_document, reviewed
from mildladder.exchange.pictures import picture_paths
from mildladder.store import documents as store
from mildladder.store.tables import EditionRow, RevisionRow

__all__ = [
    "BondView", "Change", "DraftView", "EditionView", "Judged", "NewerText", "RowView", "SavedBy", "draft",
    "edition_list", "edition_view", "mend", "move", "newest_as", "publish", "redo", "refuse_blockers", "restore",
    "revise", "save", "undo",
]  # fmt: skip


class Judged(Shape):
    """What the lead's judgement of a step comes to, where a rung puts it; `by_unit`: it differs between units.

    effort: effort minutes; elapsed, hands_on, wait, travel: minutes on the clock; parts: money; harm: harm points bare
    and eased by what stands above; bare, eased: the risk grades 0 to 4 of those.
    """

    effort: float
    elapsed: float
    by: Person
    hands_on: float
    wait: float
    travel: float
    parts: float
    bare_harm: float
    eased_harm: float
    bare: int
    eased: int


class RowView(Shape):
    """One row of the ladder as it is drawn: a rung with its judgement, or what a rail ends in.

    label: 1 to n on the main line, 4a, 4b on rails. index: of the main-line rung that it is or hangs on. via: what
    opens the rail, on its first row. footing: title of the state in which the step is done. varies: where the step is
    different, in words.
    """

    path: str
    label: str
    depth: int
    index: int
    via: str | None
    kind: Literal["rung", "again", "hand-off", "playbook"]
    says: str
    step: str | None
    when: str | None
    note: str | None
    footing: str | None
    trial: str | None
    varies: tuple[str, ...]
    judged: Judged | None


class Change(Shape):
    """What undo or redo would change, and whose change it was."""

    label: str
    who: str


class NewerText(Shape):
    """The library has a newer text of a step than the draft: it waits to be taken."""

    step: str
    version: int
    newest: int
    who: str


class SavedBy(Shape):
    """Who saved, when, and what they did."""

    who: str
    at: datetime
    label: str


class BondView(Shape):
    """A rule of the order, in words: one of the rungs at `holders` must stand above the one at index `below`."""

    holders: tuple[int, ...]
    below: int
    says: str


class EditionView(Shape):
    """One published edition, its document left out."""

    number: int
    note: str
    who: str
    at: datetime
    forecast: Forecast


class DraftView(Shape):
    """A draft with every figure that its screen shows. `rows`: rungs and rails as drawn.

    pictures: digest by path of those that it shows.
    """

    playbook: Playbook
    revision: int
    saved: SavedBy
    forecast: Forecast
    rows: tuple[RowView, ...]
    bonds: tuple[BondView, ...]
    review: tuple[ReviewFinding, ...]
    waiting: tuple[NewerText, ...]
    pictures: dict[str, str]
    undo: Change | None
    redo: Change | None
    published: EditionView | None
    is_published: bool


def draft(session: Session, playbook_id: str) -> DraftView:
    """The draft as it stands. Raises NotFound."""
    return _view(session, store.newest_revision(session, playbook_id))


def save(session: Session, playbook: Playbook, label: str, expected: int, who: str, now: datetime) -> DraftView:
    """Make a changed document the draft. Raises Stale when `expected` is not the newest, BadInput when unsound.

    Origins of steps that the document still has are kept.
    """
    row = newest_as(session, playbook.id, expected)
    check(playbook)
    was = store.document_of(row)
    if was.playbook == playbook:
        return _view(session, row)
    kept = {step.id: was.origins[step.id] for step in playbook.steps if step.id in was.origins}
    store.register_facts(session, playbook.facts)
    shown = picture_paths(playbook)
    pictures = {path: digest for path, digest in was.pictures.items() if path in shown}
    for path in shown:
        if path not in pictures:
            raise BadInput(
                f"the picture '{path}' is not on this desk; bring it in with the playbook file", path="playbook"
            )
    document = Document(playbook=playbook, origins=kept, **({"pictures": pictures} if pictures else {}))
    return _view(session, store.add_revision(session, document, label, who, now))


def revise(session: Session, document: Document, label: str, expected: int, who: str, now: datetime) -> DraftView:
    """Make a document, origins included, the draft. Raises Stale, and BadInput when it is unsound."""
    newest_as(session, document.playbook.id, expected)
    check(document.playbook)
    return _view(session, store.add_revision(session, document, label, who, now))


def move(
    session: Session, playbook_id: str, source: int, target: int, both: bool, expected: int, who: str, now: datetime
) -> DraftView:
    """Move one rung, by index. Raises Stale, BadInput for an index that is not there, Held for a binding rule."""
    row = newest_as(session, playbook_id, expected)
    was = store.document_of(row).playbook
    moved = move_rung(was, source, target, both)
    title = moved.step(was.ladder[source].step).title
    return save(session, moved, f"{title} moved from {source + 1} to {target + 1}", expected, who, now)


def undo(session: Session, playbook_id: str, expected: int, even_others: bool, who: str, now: datetime) -> DraftView:
    """Bring back the state before the last change. Raises Conflict when there is none, or when it is another's."""
    row = newest_as(session, playbook_id, expected)
    target = store.undo_target(session, row)
    if target is None:
        raise Conflict("there is nothing to undo")
    taken_away, brought_back = target
    _check_whose(taken_away, even_others, who, "undone")
    label = f"Undid: {taken_away.label}"
    document = store.document_of(brought_back)
    return _view(session, store.add_revision(session, document, label, who, now, brought_back))


def redo(session: Session, playbook_id: str, expected: int, even_others: bool, who: str, now: datetime) -> DraftView:
    """Bring back what undo took away. Raises Conflict when there is nothing, or when it is another's."""
    row = newest_as(session, playbook_id, expected)
    target = store.redo_target(session, row)
    if target is None:
        raise Conflict("there is nothing to redo")
    _check_whose(target, even_others, who, "redone")
    document = store.document_of(target)
    return _view(session, store.add_revision(session, document, f"Redid: {target.label}", who, now, target))


def _check_whose(change: RevisionRow, even_others: bool, who: str, done: str) -> None:
    if change.who != who and not even_others:
        raise Conflict(f"“{change.label}” is {change.who}'s change; say that it may be {done} all the same")


def publish(session: Session, playbook_id: str, note: str, expected: int, who: str, now: datetime) -> EditionView:
    """Freeze the draft as the next edition. Raises Stale, and Conflict when nothing changed or a blocker stands."""
    kept = store.document_of(newest_as(session, playbook_id, expected))
    refuse_blockers(session, kept.playbook)
    content_hash = _content_hash(kept.playbook)
    last = store.newest_edition(session, playbook_id)
    if last is not None and last.content_hash == content_hash:
        raise Conflict(f"nothing has changed since edition {last.number}")
    figures = forecast(kept.playbook).model_dump(mode="json")
    return edition_view(store.add_edition(session, kept, expected, figures, content_hash, note, who, now))


def refuse_blockers(session: Session, playbook: Playbook) -> None:
    """Raises Conflict when review finds what agents could come to harm by, or when there is nothing to climb."""
    for finding in reviewed(session, playbook):
        if finding.level == "blocker":
            raise Conflict(f"this draft cannot be published: {finding.says}")
    if not playbook.ladder:
        raise Conflict("this draft cannot be published: its ladder has no rung")


def mend(
    session: Session, playbook_id: str, code: str, finding: str, expected: int, who: str, now: datetime
) -> DraftView:
    """Mend one finding of review, as one change. Raises Stale, and Conflict when it is gone or has no mend."""
    newest_as(session, playbook_id, expected)
    playbook, says = mend_document(session, playbook_id, code, finding)
    return save(session, playbook, says, expected, who, now)


def restore(session: Session, playbook_id: str, number: int, expected: int, who: str, now: datetime) -> DraftView:
    """Make an edition the draft again, as one change. Raises NotFound, Stale."""
    playbook = document(session, playbook_id, number)
    return save(session, playbook, f"Edition {number} brought back", expected, who, now)


def edition_list(session: Session, playbook_id: str) -> list[EditionView]:
    """Every edition, newest first. Raises NotFound when there is no such playbook."""
    store.newest_revision(session, playbook_id)
    return [edition_view(row) for row in store.editions(session, playbook_id)]


def edition_view(row: EditionRow) -> EditionView:
    """An edition as it is shown."""
    return EditionView(
        number=row.number, note=row.note, who=row.who, at=row.at, forecast=Forecast.model_validate(row.forecast)
    )


def newest_as(session: Session, playbook_id: str, expected: int) -> RevisionRow:
    """The newest revision of a draft. Raises NotFound, and Stale when it is not the expected one."""
    newest = store.newest_revision(session, playbook_id)
    if newest.number != expected:
        raise Stale(
            f"{newest.who} has changed this draft since you read it (“{newest.label}”); "
            f"look at revision {newest.number}, then make your change again",
            newest.number,
        )
    return newest


def _view(session: Session, row: RevisionRow) -> DraftView:
    document = store.document_of(row)
    playbook = document.playbook
    undoable, redoable = store.undo_target(session, row), store.redo_target(session, row)
    figures = forecast(playbook)
    last = store.newest_edition(session, row.playbook_id)
    return DraftView(
        playbook=playbook,
        revision=row.number,
        saved=SavedBy(who=row.who, at=row.at, label=row.label),
        forecast=figures,
        rows=draft_rows(playbook),
        bonds=tuple(_bond(b) for b in bonds(playbook)),
        review=tuple(review(playbook, known_links(session, playbook), figures)),
        pictures=document.pictures,
        waiting=_waiting(session, document),
        undo=Change(label=undoable[0].label, who=undoable[0].who) if undoable else None,
        redo=Change(label=redoable.label, who=redoable.who) if redoable else None,
        published=edition_view(last) if last else None,
        is_published=last is not None and last.content_hash == _content_hash(playbook),
    )


def _bond(bond: Bond) -> BondView:
    return BondView(holders=bond.holders, below=bond.below, says=bond.says)


def _waiting(session: Session, document: Document) -> tuple[NewerText, ...]:
    newest = store.newest_versions(session, {origin for origin, _ in document.origins.values()})
    return tuple(
        NewerText(step=step, version=version, newest=newest[origin].version, who=newest[origin].who)
        for step, (origin, version) in document.origins.items()
        if origin in newest and newest[origin].version > version
    )


def draft_rows(playbook: Playbook) -> tuple[RowView, ...]:
    """Every row with effort and risk grades; a safeguard eases only what stands below it."""
    steps = {step.id: step for step in playbook.steps}
    above: list[str] = []
    made = []
    for row in rows_of(playbook):
        made.append(_row(playbook, row, steps, above))
        if isinstance(row.entry, Rung):
            above.append(row.entry.step)
    return tuple(made)


def _row(playbook: Playbook, row: RowOfLadder, steps: dict[str, Step], above: Sequence[str]) -> RowView:
    entry = row.entry
    rung = entry if isinstance(entry, Rung) else None
    step = steps[rung.step] if rung else None
    footings = {footing.id: footing.title for footing in playbook.footings}
    kind: Literal["rung", "again", "hand-off", "playbook"] = "rung"
    says = step.title if step else "Offer it once more"
    if isinstance(entry, HandOffRef):
        kind, says = "hand-off", next(team.title for team in playbook.hand_offs if team.id == entry.hand_off)
    elif isinstance(entry, PlaybookRef):
        kind, says = "playbook", entry.playbook
    elif rung is None:
        kind = "again"
    return RowView(
        path=row.path,
        label=row.label,
        depth=row.depth,
        index=int(row.path.split(".")[1]),
        via=row.via,
        kind=kind,
        says=says,
        step=step.id if step else None,
        when=rung.when if rung else None,
        note=rung.note if rung else None,
        footing=footings.get(step.footing) if step and step.footing else None,
        trial=rung.trial if rung else None,
        varies=tuple(variant.when for variant in step.varies) if step else (),
        judged=_judged(step, above, playbook) if step else None,
    )


def _judged(step: Step, above: Sequence[str], playbook: Playbook) -> Judged:
    bare, eased = harm_points(step), harm_points(step, above)
    effort = _with_search(step)
    return Judged(
        effort=effort_minutes(effort, playbook.policy.weights),
        elapsed=elapsed_minutes(effort),
        by=effort.by,
        hands_on=effort.hands_on,
        wait=effort.wait,
        travel=effort.travel,
        parts=effort.parts,
        bare_harm=bare,
        eased_harm=eased,
        bare=risk_grade(bare),
        eased=risk_grade(eased),
    )


def _with_search(step: Step) -> Effort:
    """A step's effort; of a search, with the rounds that it takes when it finds one."""
    if step.search is None:
        return step.effort
    rounds = search_rounds(step.search.count, step.search.how, is_found=True)
    once = step.search.round
    return Effort(
        hands_on=step.effort.hands_on + rounds * once.hands_on,
        by=once.by,
        wait=step.effort.wait + rounds * once.wait,
        travel=step.effort.travel + rounds * once.travel,
        parts=step.effort.parts + rounds * once.parts,
    )


def _content_hash(playbook: Playbook) -> str:
    data = playbook.model_dump(mode="json", by_alias=True, exclude_unset=True)
    return hashlib.sha256(json.dumps(data, sort_keys=True, ensure_ascii=False).encode()).hexdigest()
