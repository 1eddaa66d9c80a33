"""A draft as its screen shows it: rows with their judgement, rules, review and figures."""

from collections.abc import Sequence
from datetime import datetime
from typing import Literal

from sqlalchemy.orm import Session

from mildladder.core.figures.forecast import Forecast, forecast
from mildladder.core.figures.judgement import effort_minutes, elapsed_minutes, harm_points, risk_grade, search_rounds
from mildladder.core.ladder.bonds import Bond, bonds
from mildladder.core.ladder.saying import conditions_in_words, told_in_words
from mildladder.core.ladder.walk import RowOfLadder, rows_of
from mildladder.core.model import Document, Effort, HandOffRef, Person, Playbook, PlaybookRef, Rung, Shape, Step
from mildladder.core.review import ReviewFinding, review
from mildladder.desk.editions import EditionView, edition_view
from mildladder.desk.reviewing import known_links
from mildladder.store import drafts as store
from mildladder.store.documents import document_of
from mildladder.store.editions import is_same, newest_edition
from mildladder.store.kept import kept
from mildladder.store.library import newest_versions
from mildladder.store.tables import RevisionRow

__all__ = ["BondView", "Change", "DraftView", "Judged", "NewerText", "RowView", "SavedBy", "draft_rows"]


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


class DraftView(Shape):
    """A draft with every figure that its screen shows. `rows`: rungs and rails as drawn.

    pictures: digest by path of those that it shows; conditions: those of its steps' texts and variants, in words.
    """

    playbook: Playbook
    conditions: dict[str, str]
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


def view_of(session: Session, row: RevisionRow) -> DraftView:
    document = document_of(row)
    playbook = document.playbook
    undoable, redoable = store.undo_target(session, row), store.redo_target(session, row)
    name, links = (row.playbook_id, row.number), known_links(session, playbook)
    figures = kept(session, ("figures of draft", *name), lambda: forecast(playbook))
    others = frozenset(links.items())
    findings = kept(session, ("review of draft", *name, others), lambda: tuple(review(playbook, links, figures)))
    last = newest_edition(session, row.playbook_id)
    return DraftView(
        playbook=playbook,
        conditions=kept(session, ("conditions of draft", *name), lambda: conditions_in_words(playbook)),
        revision=row.number,
        saved=SavedBy(who=row.person.name, at=row.at, label=row.label),
        forecast=figures,
        rows=kept(session, ("rows of draft", *name), lambda: draft_rows(playbook)),
        bonds=kept(session, ("bonds of draft", *name), lambda: tuple(_bond(one) for one in bonds(playbook))),
        review=findings,
        pictures=document.pictures,
        waiting=_waiting(session, document),
        undo=Change(label=undoable[0].label, who=undoable[0].person.name) if undoable else None,
        redo=Change(label=redoable.label, who=redoable.person.name) if redoable else None,
        published=edition_view(last) if last else None,
        is_published=last is not None
        and kept(session, ("draft is edition", *name, last.number), lambda: is_same(last, document)),
    )


def _bond(bond: Bond) -> BondView:
    return BondView(holders=bond.above, below=bond.below, says=bond.says)


def _waiting(session: Session, document: Document) -> tuple[NewerText, ...]:
    newest = newest_versions(session, {origin for origin, _ in document.origins.values()})
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
        when=told_in_words(rung.when, playbook) if rung and rung.when else None,
        note=rung.note if rung else None,
        footing=footings.get(step.footing) if step and step.footing else None,
        trial=rung.trial if rung else None,
        varies=tuple(told_in_words(variant.when, playbook) for variant in step.varies) if step else (),
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
        bare=risk_grade(step),
        eased=risk_grade(step, above),
    )


def _with_search(step: Step) -> Effort:
    """A step's effort; of a search, with the rounds that it takes when it finds one."""
    if step.search is None:
        return step.effort
    rounds = search_rounds(step.search.count, step.search.how, is_found=True, is_fix=step.is_tested)
    once = step.search.round
    return Effort(
        hands_on=step.effort.hands_on + rounds * once.hands_on,
        by=once.by,
        wait=step.effort.wait + rounds * once.wait,
        travel=step.effort.travel + rounds * once.travel,
        parts=step.effort.parts + rounds * once.parts,
    )
