"""Nudges on desks whose truth is known: nothing where nothing is, what is dear is found, what is promised comes."""

from concurrent.futures import ProcessPoolExecutor
from typing import Any

import numpy as np

from mildladder.core.advice.nudges import certain_changes, nudges_of
from mildladder.core.ladder.moves import reordered
from mildladder.core.model import Playbook
from tests.core.advice.grounds import A_MONTH, best_desk, grounds_of, really, with_wrong_guesses
from tests.core.evidence.desks import Desk, grown_desk

QUIET, DEAR, YEARLY, MONTHS = 100, 50, 20, 12
_DEARER = 0.05


def _quiet(seed: int) -> tuple[int, int, list[str]]:
    """How many moves and how many nudges at all a desk is told whose order is the best, and those that are not so."""
    desk = best_desk(seed, is_flat=seed % 4 < 2)
    return _told(f"seed {seed}", desk, with_wrong_guesses(desk.playbook, seed) if seed % 2 else desk.playbook)


def _told(name: str, desk: Desk, draft: Playbook) -> tuple[int, int, list[str]]:
    grounds = grounds_of(desk, draft)
    judge = really(desk, grounds)
    made = nudges_of(grounds)
    false = []
    for nudge in made:
        ladder = nudge.ladder or judge.draft.ladder
        worth = judge.worth(judge.draft.model_copy(update={"ladder": ladder}))
        if worth is None or worth <= 0:
            false.append(f"{name}: {nudge.says}")
    return sum(nudge.kind == "move" for nudge in made), len(made), false


def _monthly(seed: int) -> tuple[int, int, list[str]]:
    """The same desk looked at after each month of its first year: how many looks showed a move, how many anything, and
    what was not so."""
    quiet = best_desk(seed, cases=1, is_flat=seed % 4 < 2)
    draft = with_wrong_guesses(quiet.playbook, seed) if seed % 2 else quiet.playbook
    rng = np.random.default_rng(seed + 1)
    sizes = [round(A_MONTH) * (month + 1) for month in range(MONTHS)]
    moves, shown, false = 0, 0, []
    for month, desk in enumerate(grown_desk(quiet.playbook, quiet.truth, rng, sizes)):
        told, some, not_so = _told(f"seed {seed}, month {month + 1}", desk, draft)
        moves, shown, false = moves + (told > 0), shown + (some > 0), false + not_so
    return moves, shown, false


def _dear(seed: int) -> tuple[bool, float, float]:
    """Whether an order a twentieth dearer than the best is told, what was promised, and what comes."""
    desk = best_desk(seed, is_flat=seed % 4 < 2)
    draft = _dearer(desk, seed)
    grounds = grounds_of(desk, draft)
    judge = really(desk, grounds)
    made = [nudge for nudge in nudges_of(grounds) if nudge.ladder]
    # What is worth more on the same rungs is shown instead of the move.
    is_found = any(one.change.kind == "move" for one in certain_changes(grounds))
    promised = sum(nudge.saving.mean for nudge in made)
    came = sum(
        A_MONTH * (judge.worth(judge.draft.model_copy(update={"ladder": nudge.ladder})) or 0.0) for nudge in made
    )
    return is_found, promised, came


def _dearer(desk: Desk, seed: int) -> Playbook:
    """The order by chance that is nearest to a twentieth dearer, of two hundred."""
    rng = np.random.default_rng(seed)
    judge = really(desk, grounds_of(desk))
    now = float(judge.now.mean())
    best, nearest = desk.playbook, np.inf
    for _ in range(200):
        order = list(range(len(desk.playbook.ladder)))
        for _ in range(int(rng.integers(1, 4))):
            rung = order.pop(int(rng.integers(len(order))))
            order.insert(int(rng.integers(len(order) + 1)), rung)
        changed = reordered(judge.draft, order)
        worth = judge.worth(changed) if judge.may_be(changed) else None
        if worth is not None and abs(-worth / now - _DEARER) < nearest:
            best, nearest = reordered(desk.playbook, order), abs(-worth / now - _DEARER)
    return best


def prove() -> tuple[dict[str, Any], bool]:
    """Evidence, section 10: at most one quiet desk in a hundred with any move, and one of twenty that are looked at
    monthly for a year; nine of ten dear orders found; of what was promised, 0.9 to 1.15 came."""
    with ProcessPoolExecutor() as pool:
        quiet = list(pool.map(_quiet, range(QUIET)))
        yearly = list(pool.map(_monthly, range(2000, 2000 + YEARLY)))
        dear = list(pool.map(_dear, range(1000, 1000 + DEAR)))
    false = [one for _, _, some in quiet for one in some]
    with_moves = sum(moves > 0 for moves, _, _ in quiet)
    found = sum(is_found for is_found, _, _ in dear) / DEAR
    came = sum(came for *_, came in dear) / sum(promised for _, promised, _ in dear)
    figures = {
        "quiet_desks": QUIET,
        "quiet_desks_with_a_move": with_moves,
        "quiet_desks_with_any_nudge": sum(count > 0 for _, count, _ in quiet),
        "nudges_that_are_not_so": false,
        "desks_looked_at_monthly": YEARLY,
        "of_these_ever_with_a_move": sum(moves > 0 for moves, _, _ in yearly),
        "of_these_ever_with_what_is_not_so": sum(bool(some) for _, _, some in yearly),
        "not_so_in_some_month": [one for _, _, some in yearly for one in some],
        "dear_desks": DEAR,
        "dear_orders_found": round(found, 3),
        "came_of_promised": round(came, 3),
    }
    is_quiet = sum(moves > 0 for moves, _, _ in yearly) <= 1 and sum(bool(some) for _, _, some in yearly) <= 1
    is_held = is_quiet and with_moves <= 1 and len(false) <= 1 and found >= 0.9 and 0.9 <= came <= 1.15
    return figures, is_held
