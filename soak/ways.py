"""Cases guided by chance, each with a model of the unit beside it that knows what its agent was told and did."""

from concurrent.futures import ProcessPoolExecutor
from typing import Any

from tests.core.climb.chance import walk

WALKS = 5_000


def wrong(seed: int) -> tuple[str | None, int]:
    """What does not hold of a walk, None where all does; and how many moves it had."""
    try:
        _, log = walk(seed)
    except AssertionError as error:
        return f"{seed}: {error}", 0
    return None, len(log)


def prove() -> tuple[dict[str, Any], bool]:
    """No state or change is left that nobody was told of, no attempt logged that nobody made, nothing rough unasked."""
    with ProcessPoolExecutor() as pool:
        found = list(pool.map(wrong, range(WALKS), chunksize=25))
    broken = [says for says, _ in found if says is not None]
    figures = {
        "walks": WALKS,
        "moves": sum(moves for _, moves in found),
        "that_break": len(broken),
        "first": broken[:3],
    }
    return figures, not broken
