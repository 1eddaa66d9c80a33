"""What the product says of a planted desk, held against what is really so there."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Any

from flask.testing import FlaskClient

from mildladder.api.app import create_app
from mildladder.core.advice.nudge import Nudge
from mildladder.core.evidence.forward import with_learned
from mildladder.demo.simulate import PERIOD
from mildladder.demo.truth import Truth
from mildladder.store.database import Database
from tests.demo.planted import DEARER, Kind, Planted, Spot
from tests.demo.truly import Truly, counted_of

__all__ = ["Reading", "read"]

_NEAR = 2  # months
_BACK = 0.25
_BEYOND_LUCK = 1e-4
_HARD_TO_DO = 0.15
_AS_JUDGED = 0.2
_A_PART_OF_IT = 1 / 3
_UNLUCKY = 0.16


@dataclass(frozen=True)
class Reading:
    """What is said of each symptom: estimates, counts, and what to change."""

    desk: Planted
    began: date
    estimates: dict[str, dict[str, Any]]
    rows: dict[str, dict[str, dict[str, Any]]]
    nudges: dict[str, list[Nudge]]
    truly: dict[str, Truly]

    # What is to be found

    def missed(self) -> list[str]:
        """The discoveries of which nothing is said."""
        return [" ".join(map(str, spot)) for spot in self.desk.spots if not _FOUND[spot.kind](self, spot)]

    def _is_dead(self, spot: Spot) -> bool:
        fact, _, value = spot.of.partition("=")
        return any(
            (one["step"], one["fact"], one["value"], one["level"]) == (spot.step, fact, value, "sure")
            and 4 * one["resolved"] < one["expected"]
            for one in self.estimates[spot.symptom]["splits"]
        )

    def _has_stopped(self, spot: Spot) -> bool:
        return any(
            one["step"] == spot.step and self._is_near(one["since"], spot.month)
            for one in self.estimates[spot.symptom]["drifts"]
        )

    def _comes_back(self, spot: Spot) -> bool:
        return any(
            one["step"] == spot.step and one["p"] < _BEYOND_LUCK and one["returned"] > _BACK * one["cures"]
            for one in self.estimates[spot.symptom]["come_backs"]
        )

    def _clears(self, spot: Spot) -> bool:
        clears = self.estimates[spot.symptom]["estimate"]["clears"]
        return bool(clears["low"] <= self.desk.truths[spot.symptom].self_clears <= clears["high"])

    def _is_hard_to_do(self, spot: Spot) -> bool:
        return any(one.kind == "text" and one.steps == (spot.step,) for one in self.nudges[spot.symptom])

    def _does_harm(self, spot: Spot) -> bool:
        harms = self.rows[spot.symptom][spot.step]["harms"]
        asks = any(one.kind in ("safeguard", "regrade") and spot.step in one.steps for one in self.nudges[spot.symptom])
        return asks and any(one["kind"] == spot.of and one["is_more"] for one in harms)

    def _is_dear(self, spot: Spot) -> bool:
        """Whether what is shown first really wins a third of what the order is dearer by, or more."""
        truly = self.truly[spot.symptom]
        lost = truly.cost(truly.playbook.ladder) * (1 - 1 / DEARER)
        shown = [one for one in self.nudges[spot.symptom] if one.ladder is not None]
        return bool(shown) and truly.spares(max(shown, key=lambda one: one.saving.mean)) > _A_PART_OF_IT * lost

    def _is_near(self, since: str, month: int) -> bool:
        planted = self.began + timedelta(days=30 * month)
        said = date.fromisoformat(f"{since}-01")
        return abs((said.year - planted.year) * 12 + said.month - planted.month) <= _NEAR

    # What is not to be said

    def claims(self) -> tuple[int, list[str]]:
        """How much is claimed in all, and what of it is not so."""
        made, false = 0, []
        for symptom in self.desk.playbooks:
            for says, is_so in self._claims_of(symptom):
                made += 1
                false += [] if is_so else [f"{symptom}: {says}"]
        return made, false

    def _claims_of(self, symptom: str) -> Iterator[tuple[str, bool]]:
        truth, estimate = self.desk.truths[symptom], self.estimates[symptom]
        by_unit = {fact for _, fact, _ in _told_by_unit(truth)} | set(truth.given_cause)
        for one in estimate["splits"]:
            if one["level"] == "sure":
                yield f"{one['step']} by {one['fact']}", one["fact"] in by_unit
        for one in estimate["drifts"]:
            yield f"{one['step']} stopped in {one['since']}", self._is_of_a_version(truth, one)
        for step, row in self.rows[symptom].items():
            for one in row["harms"]:
                if one["is_more"]:
                    yield f"{step} does {one['kind']} harm", one["kind"] in truth.harms.get(step, {})
        for nudge in self.nudges[symptom]:
            yield nudge.says, self._is_so(symptom, nudge)

    def _is_of_a_version(self, truth: Truth, drift: dict[str, Any]) -> bool:
        return any(
            step == drift["step"]
            and any(self._is_near(drift["since"], month) for month in truth.rollouts.get(fact, {}))
            for step, fact, _ in _told_by_unit(truth)
        )

    def _is_so(self, symptom: str, nudge: Nudge) -> bool:
        playbook, truth = self.desk.playbooks[symptom], self.desk.truths[symptom]
        real = with_learned(playbook, counted_of(playbook, truth))
        step = nudge.steps[0]
        if nudge.kind == "text":
            return 1 - real.step(step).done > _HARD_TO_DO
        if nudge.kind == "demote":
            return truth.comes_back.get(step, 0.0) > _UNLUCKY
        if nudge.kind == "regrade" or (nudge.kind == "safeguard" and nudge.ladder is None):
            both = zip(real.step(step).hazards, playbook.step(step).hazards, strict=True)
            return any(abs(one.chance - judged.chance) > _AS_JUDGED * judged.chance for one, judged in both)
        return self.truly[symptom].spares(nudge) > 0

    def held(self) -> tuple[int, int]:
        """Of how many figures *if tried first* the interval holds the truth, and how many there are."""
        held = [
            one["first"]["low"] <= self.truly[symptom].first(one["step"]) <= one["first"]["high"]
            for symptom, view in self.estimates.items()
            for one in view["estimate"]["steps"]
            if one["first"]["mean"] is not None
        ]
        return sum(held), len(held)


def _told_by_unit(truth: Truth) -> list[tuple[str, str, str]]:
    """Each step, fact and value of which the truth says something of its own."""
    named = [name.partition("@") for name in truth.cures]
    return [(step, *where.split("=", 1)) for step, at, where in named if at]


_FOUND: dict[Kind, Callable[[Reading, Spot], bool]] = {
    "dead-on": Reading._is_dead,
    "stopped": Reading._has_stopped,
    "comes-back": Reading._comes_back,
    "clears": Reading._clears,
    "could-not": Reading._is_hard_to_do,
    "harm": Reading._does_harm,
    "dear": Reading._is_dear,
}


def read(desk: Planted, database: Database, lead: int, now: datetime) -> Reading:
    """Everything that the desk is told, as a lead is told it."""
    client = create_app(database, now=lambda: now).test_client()
    client.put("/api/me", json={"person": lead})
    told = _got(client, "/api/nudges")
    assert told["waiting"] == 0
    shown = {one["playbook"]: one["nudges"] for one in told["symptoms"]}
    return Reading(
        desk=desk,
        began=(now - PERIOD).date(),
        estimates={name: _got(client, f"/api/playbooks/{name}/estimate") for name in desk.playbooks},
        rows={
            name: {row["step"]: row for row in _got(client, f"/api/playbooks/{name}/evidence")["rows"]}
            for name in desk.playbooks
        },
        nudges={name: [Nudge.model_validate(one) for one in shown.get(name, [])] for name in desk.playbooks},
        truly={name: desk.truly(name) for name in desk.playbooks},
    )


def _got(client: FlaskClient, address: str) -> Any:
    answer = client.get(address)
    assert answer.status_code == 200, answer.text
    return answer.json
