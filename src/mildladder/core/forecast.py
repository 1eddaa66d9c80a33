"""What a ladder costs and ends, worked out exactly before anyone climbs it (method, section 3).

No simulation: mass flows down the rungs, split only where something differs, and like states are merged. Mass is kept
per cause, one sort of unit after the other, so the figures for each cause fall out of the same pass.
The value function is that of decision-theoretic troubleshooting (Heckerman, Breese & Rommelse 1995) for a fixed order,
with the shared set-up costs of Langseth & Jensen 2001.
"""

from collections import defaultdict
from dataclasses import dataclass

import numpy as np

from mildladder.core.causes import FloatArray, all_causes, priors
from mildladder.core.conditions import World, evaluate
from mildladder.core.errors import BadInput
from mildladder.core.model import Playbook, Shape, Step
from mildladder.core.plan import ANY, NORMAL, Cost, End, Known, Line, Node, Plan, Trial, plan_for
from mildladder.core.units import fact_types, unit_groups

__all__ = ["Forecast", "RungForecast", "forecast"]

_MOST_STATES = 20_000


class RungForecast(Shape):
    """Figures of one rung, as shares of, or means over, all cases of the symptom.

    path: its place, such as ``ladder.3.on.blocked.0``. arriving: share still unresolved that comes to it; reach: share
    for which its step comes up. With its side rails counted in: what was resolved, worked around, handed off and sent
    on there, effort in effort minutes (the switch into its footing too) and harm in harm points, a case.
    """

    path: str
    step: str
    arriving: float
    reach: float
    resolved: float
    worked_around: float
    handed_off: float
    sent_on: float
    effort: float
    harm: float


class Forecast(Shape):
    """Figures of a whole ladder a case: means of effort minutes, harm points and clock minutes, and shares of ends.

    rungs: the main line; side: every rung of its rails, in the order of the ladder.
    """

    effort: float
    harm: float
    elapsed: float
    resolved: float
    worked_around: float
    handed_off: float
    sent_on: float
    rungs: tuple[RungForecast, ...]
    side: tuple[RungForecast, ...]
    by_cause: dict[str, float]


# Where a state stands: its footing, the steps done, and what each check found (-1: not known).
_Key = tuple[int, int, tuple[int, ...]]
_States = dict[_Key, FloatArray]


class _Row:
    """What one rung adds up."""

    __slots__ = ("arriving", "effort", "handed_off", "harm", "reach", "resolved", "sent_on", "worked_around")

    def __init__(self) -> None:
        self.arriving = self.reach = self.resolved = self.worked_around = 0.0
        self.handed_off = self.sent_on = self.effort = self.harm = 0.0


class _Ledger:
    """What all rungs and sorts of units add up. `prior`: P(cause); masses are given the cause."""

    def __init__(self, prior: FloatArray, rows: int) -> None:
        self.prior = prior
        self.rows = [_Row() for _ in range(rows)]
        self.effort = np.zeros(len(prior))
        self.elapsed = self.harm = self.handed_off = self.sent_on = 0.0

    def pay(self, node: Node | None, mass: FloatArray, cost: Cost) -> None:
        """A cost that this mass pays, at a rung or (None) at the foot of the ladder."""
        if cost.effort or cost.elapsed:
            share = float(mass @ self.prior)
            self.effort += mass * cost.effort
            self.elapsed += share * cost.elapsed
            effort = share * cost.effort
            for row in self._rows(node):
                row.effort += effort

    def hurt(self, node: Node | None, mass: FloatArray, points: float) -> None:
        """Harm that this mass suffers."""
        if points:
            harm = float(mass @ self.prior) * points
            self.harm += harm
            for row in self._rows(node):
                row.harm += harm

    def end(self, node: Node | None, mass: FloatArray, name: str) -> None:
        """The end of this mass: resolved, worked_around, handed_off or sent_on."""
        share = float(mass @ self.prior)
        if name in ("handed_off", "sent_on"):
            setattr(self, name, getattr(self, name) + share)
        for row in self._rows(node):
            setattr(row, name, getattr(row, name) + share)

    def _rows(self, node: Node | None) -> list[_Row]:
        return [self.rows[index] for index in node.lineage] if node else []


def forecast(playbook: Playbook) -> Forecast:
    """The exact figures of the playbook's ladder as it stands.

    Raises BadInput for weights or findings that sum to 0, for a condition that cannot be read, and for a ladder whose
    steps hang together in too many ways.
    """
    causes = all_causes(playbook)
    prior = priors(causes)
    types = fact_types(playbook)
    ledger: _Ledger | None = None
    nodes: list[Node] = []
    known = Known()
    for group in unit_groups(playbook):
        plan = plan_for(playbook, group.facts, types, causes, known)
        nodes = plan.nodes
        ledger = ledger or _Ledger(prior, len(nodes))
        _Climb(plan, ledger).run(np.full(len(causes), group.share))
    if ledger is None:
        raise BadInput("no sort of unit has a share; give the facts shares that sum to 1", path="facts")
    return _figures(ledger, nodes, [cause.id for cause in causes])


@dataclass(frozen=True)
class _Test:
    """A case within a trial: who was carried out, and who was come to that proves only after leaving."""

    carried: tuple[Node, ...] = ()
    leaving: Node | None = None


class _Climb:
    """Takes the mass of one sort of unit over a plan, by the rules of method, section 3."""

    def __init__(self, plan: Plan, ledger: _Ledger) -> None:
        self.plan, self.ledger = plan, ledger

    def run(self, mass: FloatArray) -> None:
        start: _Key = (NORMAL, 0, (-1,) * len(self.plan.checks))
        left = self._line(self.plan.main, {start: mass})
        for key, rest in left.items():
            self._leave(None, key, rest)
            self.ledger.pay(None, rest, self.plan.hand_off)
            self.ledger.end(None, rest, "handed_off")

    def _line(self, line: Line, states: _States, owner: Node | None = None) -> _States:
        for part, (bits, checks) in zip(line.parts, line.matters, strict=True):
            if isinstance(part, End):
                self._end(part, states, owner)
                return {}
            states = _merged(self._trial(part, states), bits, checks)
            if len(states) > _MOST_STATES:
                raise BadInput(
                    f"from '{part.nodes[-1].step.id}' on, steps that may or may not be done, and what they find, hang"
                    " together in too many ways to be worked out; let fewer steps stand twice, or fewer safeguards be"
                    " uncertain",
                    path=part.nodes[-1].path,
                )
        return states

    def _end(self, part: End, states: _States, owner: Node | None) -> None:
        for key, mass in states.items():
            self._leave(owner, key, mass)
            if part.team is not None:
                self.ledger.pay(owner, mass, part.team)
            self.ledger.end(owner, mass, "sent_on" if part.team is None else "handed_off")

    def _trial(self, part: Trial, states: _States) -> _States:
        """Rules 1 to 6: every rung of the trial is come to in turn, then what was carried out is tested."""
        within: dict[tuple[_Key, _Test], FloatArray] = {(key, _Test()): mass for key, mass in states.items()}
        for node in part.nodes:
            came: dict[tuple[_Key, _Test], FloatArray] = {}
            for (key, test), mass in within.items():
                if not part.is_again:
                    self.ledger.rows[node.index].arriving += float(mass @ self.ledger.prior)
                self._come_to(node, part.is_again, key, test, mass, came)
            within = came
        out: _States = {}
        for (key, test), mass in within.items():
            self._test(part.nodes[-1], key, test, mass, out)
        return out

    def _come_to(
        self,
        node: Node,
        is_again: bool,
        key: _Key,
        test: _Test,
        mass: FloatArray,
        came: dict[tuple[_Key, _Test], FloatArray],
    ) -> None:
        footing, done, found = key
        if not is_again and not self._applies(node, found):
            _add(came, (key, test), mass)
            return
        if done & node.bit:
            for after, rest in self._rail(node, self._known(node, found), {key: mass}).items():
                _add(came, (after, test), rest)
            return
        if not is_again:
            self.ledger.rows[node.index].reach += float(mass @ self.ledger.prior)
        if node.footing not in (ANY, footing):
            key = self._switch(node, key, node.footing, mass)
        self.ledger.pay(node, mass, node.cost)
        chance = 1.0 if is_again else node.done
        leaving = node if node.step.proves == "after-leaving" else test.leaving
        if chance < 1:
            self._could_not(node, key, _Test(test.carried, leaving), mass * (1 - chance), came)
        if chance > 0:
            self._carry_out(node, key, _Test(test.carried, leaving), mass * chance, came)

    def _could_not(
        self, node: Node, key: _Key, test: _Test, mass: FloatArray, came: dict[tuple[_Key, _Test], FloatArray]
    ) -> None:
        """Rule 4: no harm, not done; what proves only after leaving is left at once."""
        if node.step.proves == "after-leaving":
            key = self._leave(node, key, mass)
        for after, rest in self._rail(node, "could-not", {key: mass}).items():
            _add(came, (after, test), rest)

    def _carry_out(
        self, node: Node, key: _Key, test: _Test, mass: FloatArray, came: dict[tuple[_Key, _Test], FloatArray]
    ) -> None:
        """Rule 5; what is not tested goes on to its findings."""
        footing, done, found = key
        self.ledger.hurt(node, mass, node.harm.after(done))
        key = (footing, done | node.bits, found)
        if node.step.is_tested:
            _add(came, (key, _Test((*test.carried, node), test.leaving)), mass)
            return
        for after, rest in self._split(node, key, mass, has_rails=True).items():
            _add(came, (after, test), rest)

    def _test(self, last: Node, key: _Key, test: _Test, mass: FloatArray, out: _States) -> None:
        """Rule 6: leave, restart, try again, credit in order, put back, and go on to the findings."""
        if test.leaving is not None:
            key = self._leave(test.leaving, key, mass)
        if not test.carried:
            _add(out, key, mass)
            return
        tried = test.carried[-1]
        if any(node.step.proves == "after-restart" for node in test.carried):
            self.ledger.pay(tried, mass, self.plan.restart)
        self.ledger.pay(tried, mass, tried.retest)
        for node in test.carried:
            cured = mass * node.cures
            if _is_some(cured):
                self._cure(node, key, test, cured)
                mass = mass - cured
        for node in test.carried:
            if _after(node.step) in ("always", "no-change"):
                self.ledger.pay(node, mass, node.put_back)
        states: _States = {key: mass}
        for node in test.carried:
            split: _States = {}
            for before, rest in states.items():
                for after, part in self._split(node, before, rest, has_rails=node is last).items():
                    _add(split, after, part)
            states = split
        for after, rest in states.items():
            _add(out, after, rest)

    def _cure(self, node: Node, key: _Key, test: _Test, cured: FloatArray) -> None:
        self.ledger.end(node, cured, "resolved" if node.step.kind == "fix" else "worked_around")
        self._leave(node, key, cured)
        for other in test.carried:
            if _after(other.step) == "always":
                self.ledger.pay(other, cured, other.put_back)

    def _split(self, node: Node, key: _Key, mass: FloatArray, has_rails: bool) -> _States:
        """Rule 7: by finding, each along its rail."""
        if node.check is None:
            return {key: mass}
        footing, done, found = key
        out: _States = {}
        for number, (finding, chances, cost) in enumerate(node.findings):
            part = mass * chances
            if not _is_some(part):
                continue
            self.ledger.pay(node, part, cost)
            after = (footing, done, (*found[: node.check], number, *found[node.check + 1 :]))
            ends = self._rail(node, finding, {after: part}) if has_rails else {after: part}
            for last, rest in ends.items():
                _add(out, last, rest)
        return out

    def _rail(self, node: Node, name: str | None, states: _States) -> _States:
        """A rail that comes to its end goes back to the footing held when it began, and pays for it."""
        rail = node.rails.get(name or "")
        if rail is None:
            return states
        out: _States = {}
        for key, mass in states.items():
            for after, rest in self._line(rail, {key: mass}, node).items():
                back = self._switch(node, after, key[0], rest) if after[0] != key[0] else after
                _add(out, back, rest)
        return out

    def _switch(self, node: Node | None, key: _Key, target: int, mass: FloatArray) -> _Key:
        cost, harm = self.plan.switch[key[0], target]
        self.ledger.pay(node, mass, cost)
        self.ledger.hurt(node, mass, harm.after(key[1]))
        return (target, key[1], key[2])

    def _leave(self, node: Node | None, key: _Key, mass: FloatArray) -> _Key:
        """Leaving always means to the normal state."""
        return key if key[0] == NORMAL else self._switch(node, key, NORMAL, mass)

    def _applies(self, node: Node, found: tuple[int, ...]) -> bool:
        if isinstance(node.condition, bool):
            return node.condition
        return evaluate(node.condition, World(findings=self._names(found))) is not False

    def _names(self, found: tuple[int, ...]) -> dict[str, str]:
        pairs = zip(self.plan.checks.items(), found, strict=True)
        return {step: findings[number] for (step, findings), number in pairs if number >= 0}

    def _known(self, node: Node, found: tuple[int, ...]) -> str | None:
        if node.check is None or found[node.check] < 0:
            return None
        return node.findings[found[node.check]][0]


def _after(step: Step) -> str:
    return step.undo.after if step.undo else "never"


def _is_some(mass: FloatArray) -> bool:
    """Whether any of it is there; for so few numbers quicker than asking the array."""
    return any(mass.tolist())


def _add(states: dict, key: object, mass: FloatArray) -> None:  # type: ignore[type-arg]
    states[key] = states[key] + mass if key in states else mass


def _merged(states: _States, bits: int, checks: frozenset[int]) -> _States:
    """The states with everything forgotten that can no longer change anything, like ones added up."""
    out: _States = defaultdict()
    for (footing, done, found), mass in states.items():
        if not _is_some(mass):
            continue
        known = tuple(number if check in checks else -1 for check, number in enumerate(found)) if found else found
        _add(out, (footing, done & bits, known), mass)
    return dict(out)


def _figures(ledger: _Ledger, nodes: list[Node], causes: list[str]) -> Forecast:
    rows = [(node, _rung(node, ledger.rows[node.index])) for node in nodes]
    main = tuple(row for node, row in rows if node.parent is None)
    return Forecast(
        effort=float(ledger.effort @ ledger.prior),
        harm=ledger.harm,
        elapsed=ledger.elapsed,
        resolved=sum(row.resolved for row in main),
        worked_around=sum(row.worked_around for row in main),
        handed_off=ledger.handed_off,
        sent_on=ledger.sent_on,
        rungs=main,
        side=tuple(row for node, row in rows if node.parent is not None),
        by_cause={cause: float(minutes) for cause, minutes in zip(causes, ledger.effort, strict=True)},
    )


def _rung(node: Node, row: _Row) -> RungForecast:
    return RungForecast(path=node.path, step=node.step.id, **{name: getattr(row, name) for name in _Row.__slots__})
