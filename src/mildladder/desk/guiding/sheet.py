"""What is left of a ladder for a case, on one sheet: for whoever goes there, printed or on a phone."""

from dataclasses import replace
from datetime import datetime

from sqlalchemy.orm import Session

from mildladder.core.climb.agenda import AgainTask, RungTask
from mildladder.core.climb.machine import Climb, climb
from mildladder.core.climb.record import hand_off_text
from mildladder.core.climb.spoken import spoken_cost
from mildladder.core.climb.wording import FilledInstruction, Filler
from mildladder.core.ladder.footings import chain, footings_of
from mildladder.core.ladder.saying import told_in_words
from mildladder.core.ladder.shown import filled_step
from mildladder.core.ladder.walk import RowOfLadder, rows_of
from mildladder.core.model import Need, Rung, Shape, Step
from mildladder.desk.guiding.climb_steps import filler_of
from mildladder.store import climbs as store
from mildladder.store.documents import document_of
from mildladder.store.editions import edition as stored_edition

__all__ = ["Sheet", "sheet"]


class SheetRung(Shape):
    """A rung that is ahead. via: what opens the rail that it begins; when: where it applies, in words; states: what the
    unit is brought into for it."""

    label: str
    title: str
    depth: int
    via: str | None
    when: str | None
    states: tuple[str, ...]
    cost: str | None
    do: tuple[FilledInstruction, ...]
    expect: str | None
    missing: str | None


class Sheet(Shape):
    """The rungs ahead of a case, side rails under theirs; to_hand: all that they need, tools and parts first; told:
    what is known and was tried."""

    case: str
    title: str
    told: str
    to_hand: tuple[str, ...]
    retest: str | None
    rungs: tuple[SheetRung, ...]


def sheet(session: Session, climb_id: str, at: datetime) -> Sheet:
    """The sheet of a guided case as it stands at that moment. Raises NotFound."""
    row = store.climb_row(session, climb_id)
    document = document_of(stored_edition(session, row.playbook_id, row.edition))
    now = replace(climb(document.playbook, store.events(session, climb_id)), looked_at=at)
    filler = filler_of(now, document.pictures)
    retest = now.playbook.retest
    return Sheet(
        case=row.case_id,
        title=now.playbook.title,
        told=hand_off_text(now),
        to_hand=_to_hand(now, filler),
        retest=filler.fill(retest.how) if retest else None,
        rungs=tuple(_rung(now, filler, row) for row in _ahead(now)),
    )


def _ahead(now: Climb) -> list[RowOfLadder]:
    """The rungs ahead, in the order of the ladder, with the rails that may still open under them."""
    left = {task.path for task in now.agenda if isinstance(task, RungTask | AgainTask)}
    rows = [row for row in rows_of(now.playbook) if isinstance(row.entry, Rung)]
    return [row for row in rows if any(row.path == one or row.path.startswith(f"{one}.on.") for one in left)]


def _step_of(now: Climb, row: RowOfLadder) -> Step:
    assert isinstance(row.entry, Rung)
    return now.on_unit(now.playbook.step(row.entry.step))


def _to_hand(now: Climb, filler: Filler) -> tuple[str, ...]:
    """What all of them need, each once, the tools and parts before the rest."""
    needs: list[Need] = []
    for row in _ahead(now):
        step = _step_of(now, row)
        needs += step.to_hand
        if step.footing not in (None, "any"):
            needs += [need for one in chain(footings_of(now.playbook), step.footing) for need in one.enter.to_hand]
    needs.sort(key=lambda need: need.kind not in ("tool", "part"))
    said = [filler.fill(need.what) + (f" ({filler.fill(need.from_)})" if need.from_ else "") for need in needs]
    return tuple(dict.fromkeys(said))


def _rung(now: Climb, filler: Filler, row: RowOfLadder) -> SheetRung:
    step = _step_of(now, row)
    assert isinstance(row.entry, Rung)
    stands = () if step.footing in (None, "any") else chain(footings_of(now.playbook), step.footing)
    filled = filled_step(step, filler.fill)
    return SheetRung(
        label=row.label,
        title=step.title,
        depth=row.depth,
        via=row.via,
        when=told_in_words(row.entry.when, now.playbook) if row.entry.when else None,
        states=tuple(filler.fill(one.title) for one in stands),
        cost=spoken_cost(filled),
        do=filler.instructions(step.do, now.world),
        expect=filled.expect,
        missing=filled.missing,
    )
