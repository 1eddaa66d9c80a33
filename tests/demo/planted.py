"""Desks like the made-up one on which the same kinds of discovery are planted on other steps and symptoms, by seed."""

from collections import Counter
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Literal, NamedTuple

import numpy as np

from mildladder.core.ladder.bonds import broken
from mildladder.core.ladder.causes import chance
from mildladder.core.ladder.moves import reordered
from mildladder.core.model import Case, Playbook
from mildladder.core.model.base import Id
from mildladder.core.ordering.best import best_order
from mildladder.demo.desk import playbooks
from mildladder.demo.simulate import Simulated, simulate
from mildladder.demo.truth import TRUTHS, Truth
from mildladder.desk.log.intake import import_cases
from mildladder.desk.people import named
from mildladder.desk.publishing.files import import_playbook
from mildladder.store.database import Database
from tests.demo.truly import Truly

__all__ = ["DEARER", "Kind", "Planted", "Spot", "log_cases_of", "planted"]

Kind = Literal["dead-on", "stopped", "comes-back", "clears", "could-not", "harm", "dear"]
DEARER = 1.3
_ORDERS = 400
_NEW = 0.65


class Spot(NamedTuple):
    """Where something is planted. of: the value on which a step is dead, or with which it stopped; month: since when
    (0 the first); kind of harm."""

    kind: Kind
    symptom: Id
    step: Id = ""
    of: str = ""
    month: int = 0


@dataclass(frozen=True)
class Planted:
    """A desk: its playbooks, what is really so, and what is to be found on it."""

    playbooks: dict[Id, Playbook]
    truths: dict[Id, Truth]
    spots: tuple[Spot, ...]

    def only(self, *kinds: Kind) -> "Planted":
        """The same with those symptoms alone that have these kinds of discovery."""
        spots = tuple(one for one in self.spots if one.kind in kinds)
        names = [one.symptom for one in spots]
        return Planted(
            {name: self.playbooks[name] for name in names}, {name: self.truths[name] for name in names}, spots
        )

    def truly(self, symptom: Id) -> Truly:
        """What is really so of a symptom."""
        return Truly(self.playbooks[symptom], self.truths[symptom])


# Steps that come up often enough for 18 months to say anything, none of them where the made-up desk has its own.
_PLACES: dict[Kind, tuple[Spot, ...]] = {
    "dead-on": (
        Spot("dead-on", "gate-arm-up", "clear-hold", "model=GR6"),
        Spot("dead-on", "handheld-dies", "wipe-contacts", "model=H9"),
        Spot("dead-on", "handheld-no-sailing-list", "toggle-flight-key", "model=H7"),
        Spot("dead-on", "kiosk-no-card-pad", "wake-pad", "model=K2"),
        Spot("dead-on", "kiosk-touch-offset", "wipe-rim", "model=K1"),
        Spot("dead-on", "gate-stays-amber", "wipe-window", "model=GR4"),
    ),
    "stopped": (
        Spot("stopped", "gate-arm-up", "clear-hold", "firmware=4.3"),
        Spot("stopped", "gate-stays-amber", "wipe-window", "firmware=4.3"),
        Spot("stopped", "kiosk-touch-offset", "wipe-rim", "program=3.1"),
        Spot("stopped", "pass-already-aboard", "drop-second-list", "list-version=3.0"),
        Spot("stopped", "tablet-loses-network", "forget-pier-network", "system=6.0"),
    ),
    "comes-back": (
        Spot("comes-back", "counter-no-labels", "choose-label-printer"),
        Spot("comes-back", "counter-no-labels", "empty-label-queue"),
        Spot("comes-back", "kiosk-no-card-pad", "wake-pad"),
        Spot("comes-back", "gate-stays-amber", "wipe-window"),
        Spot("comes-back", "handheld-dies", "wipe-contacts"),
        Spot("comes-back", "lane-scale-wrong", "set-nought"),
    ),
    "clears": tuple(Spot("clears", symptom) for symptom in TRUTHS if symptom != "tablet-loses-network"),
    "could-not": (
        Spot("could-not", "counter-no-labels", "choose-label-printer"),
        Spot("could-not", "kiosk-faint-tickets", "close-lid"),
        Spot("could-not", "handheld-no-sailing-list", "choose-landing"),
        Spot("could-not", "gate-stays-amber", "wipe-window"),
        Spot("could-not", "lane-scale-wrong", "sweep-plate"),
        Spot("could-not", "board-departed-sailing", "restart-board"),
    ),
    "harm": (
        Spot("harm", "kiosk-faint-tickets", "set-darkness", "equipment"),
        Spot("harm", "kiosk-faint-tickets", "clean-head", "injury"),
        Spot("harm", "kiosk-no-card-pad", "seat-pad-lead", "equipment"),
        Spot("harm", "lane-scale-wrong", "sweep-plate", "injury"),
        Spot("harm", "counter-no-labels", "clear-cutter", "injury"),
        Spot("harm", "gate-arm-up", "clear-hold", "injury"),
    ),
    "dear": tuple(
        Spot("dear", symptom)
        for symptom in (
            "counter-no-labels",
            "handheld-dies",
            "pass-already-aboard",
            "board-departed-sailing",
            "tablet-loses-network",
            "gate-stays-amber",
            "lane-scale-wrong",
        )
    ),
}


def planted(seed: int) -> Planted:
    """The desk of a seed: each kind of discovery on a symptom of its own, and several symptoms with none."""
    rng = np.random.default_rng(seed)
    known = {playbook.id: playbook for playbook in playbooks()}
    truths = {name: _plain(playbook, rng) for name, playbook in known.items()}
    known["lane-scale-wrong"] = _mended(known["lane-scale-wrong"])
    spots: list[Spot] = []
    for places in _PLACES.values():
        free = [one for one in places if one.symptom not in {spot.symptom for spot in spots}]
        spot = free[int(rng.integers(len(free)))]
        if spot.kind == "stopped":
            spot = spot._replace(month=int(rng.integers(7, 13)))
        spots.append(spot)
        truths[spot.symptom] = _with(spot, known[spot.symptom], truths[spot.symptom])
        if spot.kind == "dear":
            known[spot.symptom] = _dear(known[spot.symptom], truths[spot.symptom], rng)
    return Planted(known, truths, tuple(spots))


def log_cases_of(desk: Planted, database: Database, count: int, now: datetime, seed: int) -> Planted:
    """The playbooks published, and as many cases logged as the truth has them: the desk as it came to be, each cause as
    common as it happened to be, and what came back counted again."""
    behind: dict[Id, Counter[str]] = {name: Counter() for name in desk.playbooks}

    def logged(made: Iterable[Simulated]) -> Iterator[Case]:
        for one in made:
            behind[one.case.symptom][one.cause] += 1
            yield one.case

    with database.writing() as session:
        who = named(session, "demo", now)
        for playbook in desk.playbooks.values():
            import_playbook(session, playbook, who, now, None, "First edition")
        made = simulate(desk.playbooks, desk.truths, count, now, seed)
        import_cases(session, logged(made), "demo", who, now)
    return replace(desk, truths={name: replace(one, causes=behind[name]) for name, one in desk.truths.items()})


def _plain(playbook: Playbook, rng: np.random.Generator) -> Truth:
    """A truth near what the lead thinks, without anything to be found."""
    known = TRUTHS[playbook.id]
    cures = {}
    for step in playbook.steps:
        if step.is_tested and step.fixes and not any(variant.fixes for variant in step.varies):
            cures[step.id] = {cause: _near(guess, rng) for cause, guess in _guesses(playbook, step.id).items()}
    return Truth(
        share=1.0,
        causes={cause: weight * float(rng.lognormal(0, 0.25)) for cause, weight in known.causes.items()},
        says=known.says,
        units=60,
        prefix=known.prefix,
        cures=cures,
        comes_back=dict.fromkeys(cures, 0.06),
        given_cause=known.given_cause,
    )


def _guesses(playbook: Playbook, step: Id) -> dict[Id, float]:
    return {cause: chance(one) for cause, one in playbook.step(step).fixes.items()}


def _near(guess: float, rng: np.random.Generator) -> float:
    """A chance whose odds are near those of a guess."""
    odds = guess / (1 - min(guess, 0.98)) * float(rng.lognormal(0, 0.3))
    return odds / (1 + odds)


def _with(spot: Spot, playbook: Playbook, truth: Truth) -> Truth:
    step = spot.step
    match spot.kind:
        case "dead-on":
            return replace(truth, cures={f"{step}@{spot.of}": {}, **truth.cures})
        case "stopped":
            fact, _, value = spot.of.partition("=")
            old = next(one.spread for one in playbook.facts if one.id == fact)
            others = {name: share for name, share in old.items() if name != value}
            before = {name: share / sum(others.values()) for name, share in others.items()}
            after = {**{name: share * (1 - _NEW) for name, share in before.items()}, value: _NEW}
            cures = {f"{step}@{spot.of}": dict.fromkeys(truth.cures[step], 0.04), **truth.cures}
            return replace(truth, cures=cures, rollouts={fact: {0: before, spot.month: after}})
        case "comes-back":
            return replace(truth, comes_back={**truth.comes_back, step: 0.4})
        case "clears":
            return replace(truth, self_clears=0.05)
        case "could-not":
            return replace(truth, could_not={**truth.could_not, step: 0.35})
        case "harm":
            return replace(truth, harms={step: {spot.of: 0.3}})
        case "dear":
            return truth


def _dear(playbook: Playbook, truth: Truth, rng: np.random.Generator) -> Playbook:
    """The first order by chance that keeps every rule and is three tenths dearer than the best."""
    truly = Truly(playbook, truth)
    best = best_order(
        truly.playbook.model_copy(update={"policy": playbook.policy.model_copy(update={"mode": "balanced"})})
    )
    least = truly.cost(reordered(playbook, best.order).ladder)
    for _ in range(_ORDERS):
        changed = reordered(playbook, [int(one) for one in rng.permutation(len(playbook.ladder))])
        if not broken(changed) and truly.cost(changed.ladder) > DEARER * least:
            return changed
    raise AssertionError(f"no order of {playbook.id} is dear enough")


def _mended(playbook: Playbook) -> Playbook:
    """The draft of the lane scale with its safeguard above what it protects."""
    steps = [rung.step for rung in playbook.ladder]
    order = [n for n in range(len(steps)) if steps[n] != "note-table"]
    order.insert(order.index(steps.index("load-table")), steps.index("note-table"))
    return reordered(playbook, order)
