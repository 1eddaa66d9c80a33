"""Why a rung stands where it stands, and what every other place would change (method, section 4).

Every number that is said is a difference of two forecasts, and a rule is named as what holds a rung only where it is
the one rule that the move would break.
"""

from collections.abc import Callable, Sequence

from mildladder.core.errors import BadInput, Stopped
from mildladder.core.figures.forecast import Forecast, forecast
from mildladder.core.ladder.bonds import Rule
from mildladder.core.ladder.moves import reordered
from mildladder.core.model import Playbook, Shape
from mildladder.core.ordering.best import objective
from mildladder.core.ordering.blocks import Ladder

__all__ = ["WhyHere", "amount", "more_or_less", "reasons_for_place", "why_all"]

_NOTHING = 5e-10
# Less of a minute or of a harm point than this is not worth a word.
_LEAST = 0.005


class Move(Shape):
    """A rung moved to another place of the main line, and what that would change a case.

    target: the index that it would have. effort, harm: effort minutes and harm points more (less: below 0); None where
    rules forbid it. held_by: those rules in words; one of them alone holds it only where it stands alone.
    """

    target: int
    effort: float | None
    harm: float | None
    held_by: tuple[str, ...]


class WhyHere(Shape):
    """Why a rung stands where it stands.

    ratio: share of cases ended there for each effort minute, harm counted in at the exchange rate; None where it costs
    nothing. says: one or two sentences. moves: every other place, from the top.
    """

    rung: int
    step: str
    resolved: float
    ratio: float | None
    says: tuple[str, ...]
    moves: tuple[Move, ...]


def reasons_for_place(
    playbook: Playbook, rung: int, is_stopped: Callable[[], bool] = lambda: False, reach: int | None = None
) -> WhyHere:
    """Why the rung at that index stands there, under the playbook's own mode and rate; what stands with it in one
    trial moves along. reach: how many places off is asked about; None: all.

    Raises BadInput for a rung that is not there, Stopped.
    """
    if not 0 <= rung < len(playbook.ladder):
        raise BadInput(f"there is no rung {rung + 1}; the ladder has {len(playbook.ladder)}", path="rung")
    ladder = Ladder(playbook, playbook.policy.mode)
    figures = forecast(playbook)
    block = next(number for number, block in enumerate(ladder.blocks) if rung in block.rungs)
    moves = [
        _move(ladder, figures, block, target)
        for target in range(len(ladder.blocks))
        if target != block and (reach is None or abs(target - block) <= reach) and not _stop(is_stopped)
    ]
    resolved, ratio = _worth(ladder, figures, block)
    return WhyHere(
        rung=rung,
        step=playbook.ladder[rung].step,
        resolved=resolved,
        ratio=ratio,
        says=tuple(_sentences(ladder, figures, block, moves)),
        moves=tuple(moves),
    )


def why_all(playbook: Playbook, is_stopped: Callable[[], bool] = lambda: False) -> list[WhyHere]:
    """Why each rung of the main line stands where it stands, its nearest places alone looked at."""
    return [reasons_for_place(playbook, rung, is_stopped, reach=1) for rung in range(len(playbook.ladder))]


def _stop(is_stopped: Callable[[], bool]) -> bool:
    if is_stopped():
        raise Stopped
    return False


def _move(ladder: Ladder, figures: Forecast, block: int, target: int) -> Move:
    order = [other for other in range(len(ladder.blocks)) if other != block]
    order.insert(target, block)
    index = len(ladder.rungs(order[:target]))
    held = newly_broken(ladder, order)
    if held:
        return Move(target=index, effort=None, harm=None, held_by=tuple(rule.says for rule in held))
    moved = forecast(reordered(ladder.playbook, ladder.rungs(order)))
    return Move(target=index, effort=moved.effort - figures.effort, harm=moved.harm - figures.harm, held_by=())


def newly_broken(ladder: Ladder, order: Sequence[int]) -> list[Rule]:
    """The rules that an order breaks and the draft keeps."""
    now = set(ladder.broken(range(len(ladder.blocks))))
    return [rule for rule in ladder.broken(order) if rule not in now]


def _worth(ladder: Ladder, figures: Forecast, block: int) -> tuple[float, float | None]:
    rungs = [figures.rungs[rung] for rung in ladder.blocks[block].rungs]
    ended = sum(rung.resolved + rung.worked_around for rung in rungs)
    cost = sum(rung.effort + ladder.playbook.policy.rate * rung.harm for rung in rungs)
    return ended, ended / cost if cost > 0 else None


def _sentences(ladder: Ladder, figures: Forecast, block: int, moves: list[Move]) -> list[str]:
    first = ladder.blocks[block].rungs[0]
    up = next((move for move in reversed(moves) if move.target < first), None)
    down = next((move for move in moves if move.target > first), None)
    said = [_worth_in_words(ladder, figures, block)]
    reasons = [_move_in_words(move, place) for move, place in ((up, "higher"), (down, "lower")) if move is not None]
    return [*said, " ".join(reasons)] if reasons else said


def _worth_in_words(ladder: Ladder, figures: Forecast, block: int) -> str:
    rungs = [figures.rungs[rung] for rung in ladder.blocks[block].rungs]
    ended, ratio = _worth(ladder, figures, block)
    effort, harm = sum(rung.effort for rung in rungs), sum(rung.harm for rung in rungs)
    cost = _counted(effort, "effort minute") + (f" and {_counted(harm, 'harm point')}" if harm > _NOTHING else "")
    if ended <= _NOTHING:
        return f"It ends no case here by itself and costs {cost} a case."
    per = f", {amount(100 * ratio)} for each minute" if ratio is not None else ""
    return f"Here it ends {amount(100 * ended)} of 100 cases for {cost} a case{per}."


def _move_in_words(move: Move, place: str) -> str:
    if len(move.held_by) == 1:
        return f"It cannot stand one place {place}: {move.held_by[0]}."
    if move.held_by:
        return f"It cannot stand one place {place}; {len(move.held_by)} rules forbid it together."
    assert move.effort is not None
    assert move.harm is not None
    return f"One place {place} it would take {more_or_less(move.effort, move.harm)}."


def more_or_less(effort: float, harm: float) -> str:
    """A difference in words: effort minutes and harm points, more or less, a case."""
    parts = [
        f"{_counted(abs(change), what)} {'more' if change > 0 else 'less'}"
        for change, what in ((effort, "effort minute"), (harm, "harm point"))
        if abs(change) >= _LEAST
    ]
    return f"{' and '.join(parts)} a case" if parts else "just as much"


def _counted(value: float, unit: str) -> str:
    text = amount(value)
    return f"{text} {unit}" if text == "1" else f"{text} {unit}s"


def amount(value: float) -> str:
    """A figure in a sentence: what matters of it, two decimals below 10, one below 100, none above."""
    if value == 0:
        return "0"
    if abs(value) < _LEAST:
        return f"less than {2 * _LEAST:g}"
    decimals = 2 if abs(value) < 9.995 else 1 if abs(value) < 99.95 else 0
    text = f"{value:.{decimals}f}"
    return text.rstrip("0").rstrip(".") if decimals else text


def gain(before: Forecast, after: Forecast, rate: float) -> float:
    """What a change saves, effort and harm in one figure."""
    return objective(before, rate) - objective(after, rate)
