"""Best orders against every order there is.

Three hundred ladders of seven blocks against every order there is, and two hundred of 14 to 18 blocks whose bound is
compared with their best order.
"""

import statistics
from concurrent.futures import ProcessPoolExecutor
from itertools import count, islice
from typing import Any

from mildladder.core.ordering.best import Infeasible, best_order
from tests.core.ordering.brute import Brute
from tests.core.ordering.ladders import RATES, ladder_of
from tests.core.ordering.test_search import gap

LADDERS, BLOCKS, MOST_ORDERS = 300, 7, 2_500
BOUNDS = 200


def compared(seed: int) -> tuple[int, int, float] | None:
    """Comparisons of one ladder, those without an order, and the largest difference; None where there are too many
    orders to try, or none in any mode."""
    playbook = ladder_of(seed, BLOCKS)
    brute = Brute(playbook)
    if not 0 < len(brute.orders("balanced")) <= MOST_ORDERS:
        return None
    made, without, worst = 0, 0, 0.0
    for mode in ("mildest", "balanced"):
        for rate in RATES:
            least = brute.best(mode, rate)
            try:
                found = best_order(playbook, mode, rate)
            except Infeasible:
                without += 1
                assert least is None
                continue
            assert least is not None
            assert found.exact
            made += 1
            worst = max(worst, abs(found.objective - least))
    return made, without, worst


def prove() -> tuple[dict[str, Any], bool]:
    """Equal to every order there is, to 1e-9; half of the bounds within a tenth of the best order."""
    with ProcessPoolExecutor() as pool:
        seeds = iter(count(10_000))
        results: list[tuple[int, int, float]] = []
        while len(results) < LADDERS:
            results += [one for one in pool.map(compared, islice(seeds, 40)) if one]
        results = results[:LADDERS]
        gaps = list(pool.map(gap, range(1_000, 1_000 + BOUNDS)))
    worst, median = max(one[2] for one in results), statistics.median(gaps)
    figures = {
        "ladders": len(results),
        "blocks": BLOCKS,
        "best_orders": sum(one[0] for one in results),
        "without_any_order": sum(one[1] for one in results),
        "largest_difference": worst,
        "bounds": BOUNDS,
        "bound_below_best_median": median,
        "bound_below_best_most": max(gaps),
    }
    return figures, worst <= 1e-9 and median <= 0.1
