"""What a ladder costs and ends, worked out exactly before anyone climbs it (method, section 3).

No simulation: mass flows down the rungs, split only where something differs, and like states are merged. Mass is kept
per cause, one sort of unit after the other, so the figures for each cause fall out of the same pass.
The value function is that of decision-theoretic troubleshooting (Heckerman, Breese & Rommelse 1995) for a fixed order,
with the shared set-up costs of Langseth & Jensen 2001.
"""

from collections import defaultdict
from typing import NamedTuple

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
_FOOT = -1


class _Ledger:
    """What all rungs and sorts of units add up. `prior`: P(cause); masses are given the cause.

    Masses are noted as they come and added up many at a time: for so few causes, adding each one up by itself would
    take most of a forecast's time. own: name -> (places, masses, amounts) not added up yet. rows: name -> total by
    rung, the foot of the ladder last.
    """

    _MOST_NOTES = 50_000

    def __init__(self, prior: FloatArray, nodes: int) -> None:
        self.prior = prior
        self.rows: dict[str, FloatArray] = defaultdict(lambda: np.zeros(nodes + 1))
        self.effort = np.zeros(len(prior))
        self.notes: dict[str, list[tuple[int, FloatArray, float]]] = defaultdict(list)

    def note(self, name: str, node: Node | None, mass: FloatArray, amount: float = 1.0) -> None:
        """So much of this figure for each of the mass, at a rung or (None) at the foot of the ladder."""
        notes = self.notes[name]
        notes.append((_FOOT if node is None else node.index, mass, amount))
        if len(notes) >= self._MOST_NOTES:
            self.add_up()

    def pay(self, node: Node | None, mass: FloatArray, cost: Cost) -> None:
        """A cost that this mass pays."""
        if cost.effort:
            self.note("effort", node, mass, cost.effort)
        if cost.elapsed:
            self.note("elapsed", node, mass, cost.elapsed)

    def hurt(self, node: Node | None, mass: FloatArray, points: float) -> None:
        """Harm that this mass suffers."""
        if points:
            self.note("harm", node, mass, points)

    def add_up(self) -> None:
        """Bring what was noted into the totals."""
        for name, notes in self.notes.items():
            places, masses, amounts = zip(*notes, strict=True)
            given = np.array(masses) * np.array(amounts)[:, None]
            np.add.at(self.rows[name], list(places), given @ self.prior)
            if name == "effort":
                self.effort += given.sum(axis=0)
        self.notes.clear()


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


class _Test(NamedTuple):
    """A case within a trial: who was carried out, who was come to that proves only after leaving, and whether the
    last rung's finding is to be acted upon."""

    carried: tuple[Node, ...] = ()
    leaving: Node | None = None
    is_to_branch: bool = False


_Cases = list[tuple[_Key, _Test, FloatArray]]


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
            self.ledger.note("handed_off", None, rest)

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
            self.ledger.note("sent_on" if part.team is None else "handed_off", owner, mass)

    def _trial(self, part: Trial, states: _States) -> _States:
        """Rules 1 to 6: every rung of the trial is come to in turn, then what was carried out is tested."""
        cases: _Cases = [(key, _Test(), mass) for key, mass in states.items()]
        for node in part.nodes:
            came: _Cases = []
            for key, test, mass in cases:
                if not part.is_again:
                    self.ledger.note("arriving", node, mass)
                self._come_to(node, part.is_again, key, test._replace(is_to_branch=False), mass, came)
            cases = came
        out: _States = {}
        for key, test, mass in cases:
            self._test(part.nodes[-1], key, test, mass, out)
        return out

    def _come_to(self, node: Node, is_again: bool, key: _Key, test: _Test, mass: FloatArray, came: _Cases) -> None:
        footing, done, found = key
        if not is_again and not self._applies(node, found):
            came.append((key, test, mass))
            return
        if done & node.bit:
            came.append((key, test._replace(is_to_branch=True), mass))
            return
        if not is_again:
            self.ledger.note("reach", node, mass)
        if node.footing not in (ANY, footing):
            key = self._switch(node, key, node.footing, mass)
        self.ledger.pay(node, mass, node.cost)
        chance = 1.0 if is_again else node.done
        if node.step.proves == "after-leaving":
            test = test._replace(leaving=node)
        if chance < 1:
            self._could_not(node, key, test, mass * (1 - chance), came)
        if chance > 0:
            self._carry_out(node, key, test, mass * chance, came)

    def _could_not(self, node: Node, key: _Key, test: _Test, mass: FloatArray, came: _Cases) -> None:
        """Rule 4: no harm, not done; what proves only after leaving is left at once."""
        if node.step.proves == "after-leaving":
            key = self._leave(node, key, mass)
        came.extend((after, test, rest) for after, rest in self._rail(node, "could-not", {key: mass}).items())

    def _carry_out(self, node: Node, key: _Key, test: _Test, mass: FloatArray, came: _Cases) -> None:
        """Rule 5; what is not tested has its finding at once."""
        footing, done, found = key
        self.ledger.hurt(node, mass, node.harm.after(done))
        key = (footing, done | node.bits, found)
        if node.step.is_tested:
            came.append((key, _Test((*test.carried, node), test.leaving, True), mass))
            return
        test = test._replace(is_to_branch=True)
        came.extend((after, test, rest) for after, rest in self._split(node, key, mass).items())

    def _test(self, last: Node, key: _Key, test: _Test, mass: FloatArray, out: _States) -> None:
        """Rule 6: leave, restart, try again, credit in order, put back, and go on to the findings."""
        if test.leaving is not None:
            key = self._leave(test.leaving, key, mass)
        if test.carried:
            mass = self._try_again(key, test, mass)
        states: _States = {key: mass}
        for node in test.carried:
            split: _States = {}
            for before, rest in states.items():
                split |= self._split(node, before, rest)
            states = split
        for after, rest in states.items():
            if test.is_to_branch and last.rails:
                for end, part in self._rail(last, self._known(last, after[2]), {after: rest}).items():
                    _add(out, end, part)
            else:
                _add(out, after, rest)

    def _try_again(self, key: _Key, test: _Test, mass: FloatArray) -> FloatArray:
        """The mass that the original action still fails for, once what was carried out is put back."""
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
        return mass

    def _cure(self, node: Node, key: _Key, test: _Test, cured: FloatArray) -> None:
        self.ledger.note("resolved" if node.step.kind == "fix" else "worked_around", node, cured)
        self._leave(node, key, cured)
        for other in test.carried:
            if _after(other.step) == "always":
                self.ledger.pay(other, cured, other.put_back)

    def _split(self, node: Node, key: _Key, mass: FloatArray) -> _States:
        """Rule 7: by finding."""
        if node.check is None:
            return {key: mass}
        footing, done, found = key
        out: _States = {}
        for number, (_, chances, cost) in enumerate(node.findings):
            part = mass * chances
            if _is_some(part):
                self.ledger.pay(node, part, cost)
                out[footing, done, (*found[: node.check], number, *found[node.check + 1 :])] = part
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


def _add(states: _States, key: _Key, mass: FloatArray) -> None:
    states[key] = states[key] + mass if key in states else mass


def _merged(states: _States, bits: int, checks: frozenset[int]) -> _States:
    """The states with everything forgotten that can no longer change anything, like ones added up."""
    out: _States = {}
    for (footing, done, found), mass in states.items():
        if _is_some(mass):
            known = tuple([number if check in checks else -1 for check, number in enumerate(found)])
            _add(out, (footing, done & bits, known), mass)
    return out


_OF_RAILS = ("resolved", "worked_around", "handed_off", "sent_on", "effort", "harm")


def _figures(ledger: _Ledger, nodes: list[Node], causes: list[str]) -> Forecast:
    ledger.add_up()
    totals = {name: float(ledger.rows[name].sum()) for name in (*_OF_RAILS, "elapsed")}
    rows = {name: ledger.rows[name].tolist() for name in (*_OF_RAILS, "arriving", "reach")}
    for node in reversed(nodes):
        if node.parent is not None:
            for name in _OF_RAILS:
                rows[name][node.parent.index] += rows[name][node.index]
    made = [
        (node, RungForecast(path=node.path, step=node.step.id, **{name: row[node.index] for name, row in rows.items()}))
        for node in nodes
    ]
    return Forecast(
        **totals,
        rungs=tuple(row for node, row in made if node.parent is None),
        side=tuple(row for node, row in made if node.parent is not None),
        by_cause={cause: float(minutes) for cause, minutes in zip(causes, ledger.effort, strict=True)},
    )
