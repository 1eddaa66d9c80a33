"""How long an estimate takes: made anew, by filter, and what a draft comes to by it."""

import time
from collections.abc import Callable
from typing import Any

from mildladder.core.advice.replay import replay
from mildladder.core.evidence.chains import FULL, draws
from mildladder.core.evidence.estimate import Estimated, estimate, on_units, spaced
from mildladder.core.evidence.forward import Told
from mildladder.core.evidence.mode import metric, mode, start
from mildladder.core.evidence.posterior import Posterior
from mildladder.core.evidence.records import records_of
from mildladder.core.figures.drawn import drawn_forecast
from tests.core.evidence.desks import Desk, small_desk

__all__ = ["evidence"]

_CASES, _TIMES = 2_000, 3


def _best(work: Callable[[], object]) -> float:
    best = float("inf")
    for _ in range(_TIMES):
        began = time.perf_counter()
        work()
        best = min(best, time.perf_counter() - began)
    return round(best * 1000, 1)


def evidence() -> dict[str, Any]:
    """Milliseconds at 2,000 cases and 8 fixes on one core: one run of the chains, and whole estimates with a second run
    where the first does not settle; a filter; a replay of a ladder against another; 64 draws of a 12-rung forecast."""
    flat, rich = small_desk(0, _CASES, 8, is_flat=True), small_desk(0, _CASES, 12)
    whole = _whole(rich)
    part = [one for one in rich.tallies if one.facts.get("model") == "M1"]
    chances = spaced(whole.chances)
    return {
        "one_run_flat": _best(lambda: _one_run(flat)),
        "one_run_12_rungs": _best(lambda: _one_run(rich)),
        "whole_flat": _best(lambda: _whole(flat)),
        "whole_12_rungs": _best(lambda: _whole(rich)),
        "filter_12_rungs": _best(
            lambda: estimate(*records_of(part, whole.model, is_part=True), {}, {}, whole=whole, by_fact=True)
        ),
        "replay_12_rungs": _best(lambda: replay(whole, rich.tallies, rich.playbook, rich.playbook, Told())),
        "forecast_64_draws_12_rungs": _best(lambda: drawn_forecast(rich.playbook, on_units(whole.model, chances))),
    }


def _one_run(desk: Desk) -> None:
    records, model = records_of(desk.tallies, desk.model)
    posterior = Posterior(model, records)
    place = mode(posterior, start(posterior))
    draws(posterior, place, metric(posterior, place), 1, FULL)


def _whole(desk: Desk) -> Estimated:
    return estimate(*records_of(desk.tallies, desk.model), {}, {})
