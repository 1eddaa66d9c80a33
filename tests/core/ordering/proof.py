"""What is proved outside the tests because it takes long: `make proof`.

Three hundred ladders of seven blocks against every order there is, and two hundred of 14 to 18 blocks whose bound is
compared with their best order.
"""

import statistics
import sys
from concurrent.futures import ProcessPoolExecutor
from itertools import count, islice

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


def main() -> int:
    """Print what was compared, and fail where anything differs."""
    with ProcessPoolExecutor() as pool:
        seeds = iter(count(10_000))
        results: list[tuple[int, int, float]] = []
        while len(results) < LADDERS:
            results += [one for one in pool.map(compared, islice(seeds, 40)) if one]
        results = results[:LADDERS]
        gaps = list(pool.map(gap, range(1_000, 1_000 + BOUNDS)))
    worst = max(one[2] for one in results)
    print(f"{len(results)} ladders of {BLOCKS} blocks: {sum(one[0] for one in results)} best orders,")
    print(f"  {sum(one[1] for one in results)} times no order keeps the rules; largest difference {worst:.1e}")
    print(f"{BOUNDS} ladders of 14 to 18 blocks: bound below the best order by {statistics.median(gaps):.2%} (median),")
    print(f"  {max(gaps):.2%} at most; never above it, and no searched order below it")
    return 0 if worst <= 1e-9 and statistics.median(gaps) <= 0.1 else 1


if __name__ == "__main__":
    sys.exit(main())
