"""A draft as its screen shows it: rows with their judgement, rules, review and figures."""

from collections.abc import Mapping, Sequence
from datetime import date
from typing import Literal

from sqlalchemy.orm import Session

from mildladder.core.climb.lens import settled_on, worded_for_unit
from mildladder.core.draft.flaws import Sound, Stead
from mildladder.core.errors import Conflict
from mildladder.core.evidence.lesson import Teaching
from mildladder.core.figures.forecast import Forecast, forecast
from mildladder.core.figures.judgement import effort_minutes, elapsed_minutes, harm_points, risk_grade, search_rounds
from mildladder.core.ladder.bonds import bonds
from mildladder.core.ladder.saying import conditions_in_words, told_in_words
from mildladder.core.ladder.walk import RowOfLadder, rows_of
from mildladder.core.model import Document, Effort, HandOffRef, Person, Playbook, PlaybookRef, Rung, Shape, Step
from mildladder.core.review import ReviewFinding, review
from mildladder.desk.documents import newest_as
from mildladder.desk.drafts.author import flaws_at
from mildladder.desk.drafts.editions import EditionView, edition_view
from mildladder.desk.drafts.reviewing import known_links, links_of_draft
from mildladder.desk.evidence.teaching import Basis, teaching_of
from mildladder.store import drafts as store
from mildladder.store.cache import Needs, cached, peek_cached
from mildladder.store.documents import document_of, sound_of
from mildladder.store.editions import is_same, newest_edition
from mildladder.store.library import newest_versions
from mildladder.store.log.reading import steps_that_helped
from mildladder.store.tables import EditionRow, RevisionRow

__all__ = ["DraftReview", "DraftView", "figures_of", "review_of"]


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

    key: of the entry in the working form. label: 1 to n on the main line, 4a, 4b on rails. index: of the main-line rung
    that it is or hangs on. via: what opens the rail, on its first row. footing: title of the state in which the step is
    done. varies: where the step is different, in words.
    """

    key: str
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


class NewerText(Shape):
    """The library has a newer text of a step than the draft: it waits to be taken."""

    step: str
    version: int
    newest: int
    who: str


class BondView(Shape):
    """A rule of the order, in words: one of the rungs with the keys `holders` must stand above the one `below`."""

    holders: tuple[str, ...]
    below: str
    says: str


class DraftView(Shape):
    """The figures of one revision of a draft. `playbook`: what they are made of; `rows`: rungs and rails as drawn.

    instead: where the draft has a flaw, what stands in its stead. pictures: digest by path of those that it shows;
    conditions: those of its steps' texts and variants, in words. unit: the facts of the sort of unit by which it is
    seen; none: as all units meet it. taught_by: the estimate by which the figures are, by name;
    None: by the lead's guesses.
    """

    playbook: Playbook
    unit: dict[str, str]
    instead: tuple[Stead, ...]
    conditions: dict[str, str]
    revision: int
    forecast: Forecast
    taught_by: str | None
    rows: tuple[RowView, ...]
    bonds: tuple[BondView, ...]
    waiting: tuple[NewerText, ...]
    pictures: dict[str, str]
    published: EditionView | None
    is_published: bool


class DraftReview(Shape):
    """What review says of one revision of a draft."""

    revision: int
    review: tuple[ReviewFinding, ...]


def figures_of(
    session: Session,
    playbook_id: str,
    number: int | None = None,
    unit: Mapping[str, str] | None = None,
    by: Basis = "judged",
) -> DraftView:
    """The figures of the draft as it stands, as one sort of unit meets it where facts of that are given. Raises
    NotFound, Stale for a revision that is not the newest any more, BadInput for facts that no unit can have, and
    Conflict, with what is wrong, where there are none."""
    row, sound = _newest(session, playbook_id, number)
    document = sound.document
    if document is None:
        says = next((flaw.says for flaw in flaws_at(session, playbook_id, row.number)), "it cannot be read")
        raise Conflict(f"there are no figures yet: {says}")
    whole = document.playbook
    unit = unit or {}
    needs = Needs(draft=(playbook_id, row.number), asked=tuple(sorted(unit.items())))
    settled = settled_on(whole, unit) if unit else whole
    playbook = worded_for_unit(settled, unit) if unit else whole
    last = newest_edition(session, playbook_id)
    teaching = teaching_of(session, playbook_id) if by == "cases" else None
    return DraftView(
        playbook=playbook,
        unit=dict(unit),
        instead=sound.instead,
        conditions=cached(session, "conditions", needs, lambda: conditions_in_words(playbook)),
        revision=row.number,
        forecast=_taught_forecast(session, needs, whole, unit, teaching)
        if teaching
        else _forecast(session, needs, settled),
        taught_by=teaching.name if teaching else None,
        rows=cached(session, "rows", needs, lambda: draft_rows(playbook, _keys(sound))),
        bonds=cached(session, "bonds", needs, lambda: _bonds(playbook, _keys(sound))),
        pictures=document.pictures,
        waiting=_waiting(session, document),
        published=_published(session, last, teaching) if last else None,
        is_published=last is not None and not sound.instead and _is_edition(session, row, last, document),
    )


def review_of(session: Session, playbook_id: str, today: date, number: int | None = None) -> DraftReview:
    """What review says of the draft as it stands, and of the advice that it goes by today. Raises as `figures_of`
    does."""
    row, sound = _newest(session, playbook_id, number)
    if sound.document is None:
        return DraftReview(revision=row.number, review=())
    playbook = sound.document.playbook
    links = known_links(session, playbook)
    figures = _forecast(session, Needs(draft=(playbook_id, row.number), asked=()), playbook)
    helped = steps_that_helped(session, playbook_id)
    # Of other drafts nothing else is read than where they lead.
    needs = Needs(draft=(playbook_id, row.number), day=today, asked=(frozenset(links.items()), helped))
    found = cached(session, "review", needs, lambda: tuple(review(playbook, links, figures, today, helped)))
    return DraftReview(revision=row.number, review=found)


def forecast_at(session: Session, playbook_id: str, number: int) -> Forecast:
    """The forecast of a revision, as judged. Raises Conflict where it has none."""
    needs = Needs(draft=(playbook_id, number), asked=())
    there: Forecast | None = peek_cached(session, "figures", needs)
    return there or _forecast(session, needs, _sound_playbook(session, playbook_id, number))


def blocker_of(session: Session, playbook_id: str, number: int) -> str | None:
    """The first thing, in words, that review finds to keep a revision from being published. Raises Conflict where
    there are no figures of it."""
    links = links_of_draft(session, playbook_id, number)

    def first() -> str | None:
        playbook = _sound_playbook(session, playbook_id, number)
        figures = forecast_at(session, playbook_id, number)
        return next((one.says for one in review(playbook, links, figures) if one.level == "blocker"), None)

    needs = Needs(draft=(playbook_id, number), asked=frozenset(links.items()))
    return cached(session, "blocker", needs, first)


def _sound_playbook(session: Session, playbook_id: str, number: int) -> Playbook:
    document = sound_of(session, playbook_id, number).document
    if document is None:
        says = next((flaw.says for flaw in flaws_at(session, playbook_id, number)), "it cannot be read")
        raise Conflict(f"there are no figures yet: {says}")
    return document.playbook


def _newest(session: Session, playbook_id: str, number: int | None) -> tuple[RevisionRow, Sound]:
    row = newest_as(session, playbook_id, number) if number is not None else store.newest_revision(session, playbook_id)
    return row, sound_of(session, playbook_id, row.number)


def _is_edition(session: Session, row: RevisionRow, last: EditionRow, document: Document) -> bool:
    needs = Needs(draft=(row.playbook_id, row.number), editions=((row.playbook_id, last.number),))
    return cached(session, "is edition", needs, lambda: is_same(last, document))


def _forecast(session: Session, needs: Needs, playbook: Playbook) -> Forecast:
    return cached(session, "figures", needs, lambda: forecast(playbook))


def _taught_forecast(
    session: Session, needs: Needs, whole: Playbook, unit: Mapping[str, str], teaching: Teaching
) -> Forecast:
    """The same by what the cases have taught."""

    def make() -> Forecast:
        made = teaching.taught(whole)
        return forecast(settled_on(made, unit) if unit else made)

    return cached(session, "figures by the cases", needs._replace(asked=(teaching.name, needs.asked)), make)


def _published(session: Session, last: EditionRow, teaching: Teaching | None) -> EditionView:
    """The newest edition, its forecast by the same as the draft's."""
    view = edition_view(last)
    if teaching is None:
        return view
    needs = Needs(editions=((last.playbook_id, last.number),), asked=teaching.name)
    figures = cached(
        session, "edition by the cases", needs, lambda: forecast(teaching.taught(document_of(last).playbook))
    )
    return view.model_copy(update={"forecast": figures})


def _keys(sound: Sound) -> Mapping[str, str]:
    """The keys of entries of the ladder by their path, such as ``ladder.3.on.found.0``."""
    return {".".join(map(str, place)): key for place, key in sound.keys.items() if place[0] == "ladder"}


def _bonds(playbook: Playbook, keys: Mapping[str, str]) -> tuple[BondView, ...]:
    def key(index: int) -> str:
        return keys[f"ladder.{index}"]

    return tuple(
        BondView(holders=tuple(map(key, bond.above)), below=key(bond.below), says=bond.says) for bond in bonds(playbook)
    )


def _waiting(session: Session, document: Document) -> tuple[NewerText, ...]:
    newest = newest_versions(session, {origin for origin, _ in document.origins.values()})
    return tuple(
        NewerText(step=step, version=version, newest=newest[origin].version, who=newest[origin].who)
        for step, (origin, version) in document.origins.items()
        if origin in newest and newest[origin].version > version
    )


def draft_rows(playbook: Playbook, keys: Mapping[str, str]) -> tuple[RowView, ...]:
    """Every row with effort and risk grades; a safeguard eases only what stands below it. keys: of entries by path."""
    steps = {step.id: step for step in playbook.steps}
    above: list[str] = []
    made = []
    for row in rows_of(playbook):
        made.append(_row(playbook, row, steps, above, keys[row.path]))
        if isinstance(row.entry, Rung):
            above.append(row.entry.step)
    return tuple(made)


def _row(playbook: Playbook, row: RowOfLadder, steps: dict[str, Step], above: Sequence[str], key: str) -> RowView:
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
        key=key,
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
