"""How mass flows down a ladder: split only where something differs, like states merged (method, section 3).

Shared by the forecast, which follows one order, and the ordering, which asks what each block does wherever it stands.
Mass is kept as an array over causes (or over whatever finer states somebody tells apart), one sort of unit at a time.
"""

from collections import defaultdict
from typing import NamedTuple, Protocol

import numpy as np

from mildladder.core.errors import BadInput
from mildladder.core.figures.plan import ANY, NORMAL, Cost, End, Line, Node, Plan, Trial
from mildladder.core.ladder.causes import FloatArray
from mildladder.core.ladder.conditions import World, evaluate
from mildladder.core.model import Step

__all__ = ["FOOT", "Flow", "Key", "Ledger", "States", "merged"]

_MOST_STATES = 20_000

# Where a state stands: its footing, the steps done, and what each check found (-1: not known).
Key = tuple[int, int, tuple[int, ...]]
States = dict[Key, FloatArray]
FOOT = -1


class Book(Protocol):
    """Where a flow writes down what its mass pays, suffers and comes to."""

    def note(self, name: str, node: Node | None, mass: FloatArray, amount: float = 1.0) -> None:
        """So much of this figure for each of the mass, at a rung or (None) at the foot of the ladder."""

    def pay(self, node: Node | None, mass: FloatArray, cost: Cost, /) -> None:
        """A cost that this mass pays."""

    def hurt(self, node: Node | None, mass: FloatArray, points: float, /) -> None:
        """Harm that this mass suffers."""


class Ledger:
    """What all rungs and sorts of units add up. causes: how many there are; masses are shares of all cases, by cause.

    Masses are noted as they come and added up many at a time: for so few causes, adding each one up by itself would
    take most of a forecast's time. own: name -> (places, masses, amounts) not added up yet. rows: name -> total by
    rung, the foot of the ladder last.
    """

    _MOST_NOTES = 50_000

    def __init__(self, causes: int, nodes: int) -> None:
        self.rows: dict[str, FloatArray] = defaultdict(lambda: np.zeros(nodes + 1))
        self.effort = np.zeros(causes)
        self.notes: dict[str, list[tuple[int, FloatArray, float]]] = defaultdict(list)

    def note(self, name: str, node: Node | None, mass: FloatArray, amount: float = 1.0) -> None:
        """So much of this figure for each of the mass, at a rung or (None) at the foot of the ladder."""
        notes = self.notes[name]
        notes.append((FOOT if node is None else node.index, mass, amount))
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
            np.add.at(self.rows[name], list(places), given.sum(axis=1))
            if name == "effort":
                self.effort += given.sum(axis=0)
        self.notes.clear()


class _Test(NamedTuple):
    """A case within a trial: who was carried out, who was come to that proves only after leaving, and whether the
    last rung's finding is to be acted upon."""

    carried: tuple[Node, ...] = ()
    leaving: Node | None = None
    is_to_branch: bool = False


_Cases = list[tuple[Key, _Test, FloatArray]]


class Flow:
    """Takes the mass of one sort of unit over a plan, by the rules of method, section 3."""

    def __init__(self, plan: Plan, ledger: Book) -> None:
        self.plan, self.ledger = plan, ledger

    def run(self, mass: FloatArray) -> None:
        start: Key = (NORMAL, 0, (-1,) * len(self.plan.checks))
        left = self._line(self.plan.main, {start: mass})
        for key, rest in left.items():
            self.leave(None, key, rest)
            self.ledger.pay(None, rest, self.plan.hand_off)
            self.ledger.note("handed_off", None, rest)

    def _line(self, line: Line, states: States, owner: Node | None = None) -> States:
        for part, (bits, checks) in zip(line.parts, line.matters, strict=True):
            if isinstance(part, End):
                self._end(part, states, owner)
                return {}
            states = merged(self.trial(part, states), bits, checks)
            if len(states) > _MOST_STATES:
                raise BadInput(
                    f"from '{part.nodes[-1].step.id}' on, steps that may or may not be done, and what they find, hang"
                    " together in too many ways to be worked out; let fewer steps stand twice, or fewer safeguards be"
                    " uncertain",
                    path=part.nodes[-1].path,
                )
        return states

    def _end(self, part: End, states: States, owner: Node | None) -> None:
        for key, mass in states.items():
            self.leave(owner, key, mass)
            if part.team is not None:
                self.ledger.pay(owner, mass, part.team)
            self.ledger.note("sent_on" if part.team is None else "handed_off", owner, mass)

    def trial(self, part: Trial, states: States) -> States:
        """Rules 1 to 6: every rung of the trial is come to in turn, then what was carried out is tested."""
        cases: _Cases = [(key, _Test(), mass) for key, mass in states.items()]
        for node in part.nodes:
            came: _Cases = []
            for key, test, mass in cases:
                if not part.is_again:
                    self.ledger.note("arriving", node, mass)
                self._come_to(node, part.is_again, key, test._replace(is_to_branch=False), mass, came)
            cases = came
        out: States = {}
        for key, test, mass in cases:
            self._test(part.nodes[-1], key, test, mass, out)
        return out

    def _come_to(self, node: Node, is_again: bool, key: Key, test: _Test, mass: FloatArray, came: _Cases) -> None:
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
        if node.step.proves == "after-leaving":
            test = test._replace(leaving=node)
        if is_again or node.is_sure:
            self._carry_out(node, key, test, mass, came)
            return
        self._could_not(node, key, test, mass * (1 - node.done), came)
        if node.is_possible:
            self._carry_out(node, key, test, mass * node.done, came)

    def _could_not(self, node: Node, key: Key, test: _Test, mass: FloatArray, came: _Cases) -> None:
        """Rule 4: no harm, not done, and nothing is left yet; after its rail what proves only after leaving is."""
        if node.ended is not None:
            key = (key[0], key[1], _with(key[2], node.ended, 0))
        is_left = node.step.proves == "after-leaving" and node.is_alone
        back = NORMAL if is_left else key[0]
        came.extend((after, test, rest) for after, rest in self._rail(node, "could-not", {key: mass}, back).items())

    def _carry_out(self, node: Node, key: Key, test: _Test, mass: FloatArray, came: _Cases) -> None:
        """Rule 5; what is not tested has its finding at once."""
        footing, done, found = key
        self.ledger.hurt(node, mass, node.harm.after(done))
        key = (footing, (done | node.bits) & ~node.undoes, self._forgotten(node, found))
        if node.step.is_tested:
            came.append((key, _Test((*test.carried, node), test.leaving, True), mass))
            return
        test = test._replace(is_to_branch=True)
        came.extend((after, test, rest) for after, rest in self._split(node, key, mass).items())

    def _forgotten(self, node: Node, found: tuple[int, ...]) -> tuple[int, ...]:
        """What is known once the node is carried out: it ended otherwise, and of what it undoes nothing is known."""
        if node.ended is not None and found[node.ended] >= 0:
            found = _with(found, node.ended, -1)
        for place in self.plan.undone.get(node.undoes, ()):
            if found[place] >= 0:
                found = _with(found, place, -1)
        return found

    def _test(self, last: Node, key: Key, test: _Test, mass: FloatArray, out: States) -> None:
        """Rule 6: leave, restart, try again, credit in order, put back, and go on to the findings."""
        if test.leaving is not None:
            key = self.leave(test.leaving, key, mass)
        if test.carried:
            key, mass = self._try_again(key, test, mass)
        states: States = {key: mass}
        for node in test.carried:
            split: States = {}
            for before, rest in states.items():
                split |= self._split(node, before, rest)
            states = split
        for after, rest in states.items():
            if test.is_to_branch and last.rails:
                for end, part in self._rail(last, self._known(last, after[2]), {after: rest}).items():
                    add_to(out, end, part)
            else:
                add_to(out, after, rest)

    def _try_again(self, key: Key, test: _Test, mass: FloatArray) -> tuple[Key, FloatArray]:
        """The mass that the original action still fails for, and where it stands once what was changed is put back."""
        tried = test.carried[-1]
        if any(node.step.proves == "after-restart" and not node.step.search for node in test.carried):
            self.ledger.pay(tried, mass, self.plan.restart)
        self.ledger.pay(tried, mass, tried.retest)
        for node in test.carried:
            cured = mass * node.cures
            if _is_some(cured):
                self._rounds(node, key[1], cured, node.rounds[0])
                self._cure(node, key, test, cured)
                mass = mass - cured
        self._rounds(tried, key[1], mass, tried.rounds[1])
        return self._put_back(key, test, mass, ("always", "no-change")), mass

    def _rounds(self, node: Node, done: int, mass: FloatArray, rounds: float) -> None:
        """The tries of a fix that searches. Where each is judged only after leaving, each but the first enters its
        footing again, and leaves it; a step that is done wherever the unit stands enters none."""
        self.ledger.pay(node, mass, node.round.times(rounds))
        if rounds and node.step.proves == "after-leaving" and node.footing not in (ANY, NORMAL):
            for origin, target in ((NORMAL, node.footing), (node.footing, NORMAL)):
                cost, harm = self.plan.switch[origin, target]
                self.ledger.pay(node, mass, cost.times(rounds - 1))
                self.ledger.hurt(node, mass, (rounds - 1) * harm.after(done))

    def _cure(self, node: Node, key: Key, test: _Test, cured: FloatArray) -> None:
        key = self.leave(node, self._put_back(key, test, cured, ("always",)), cured)
        states = {key: cured}
        if node.step.kind == "workaround" and "restored" in node.rails:
            states = self._rail(node, "restored", states)
        for rest in states.values():
            self.ledger.note("resolved" if node.step.kind == "fix" else "worked_around", node, rest)

    def _put_back(self, key: Key, test: _Test, mass: FloatArray, when: tuple[str, ...]) -> Key:
        """What was changed is put back, the last first, each in its footing; there the unit stays."""
        for node in reversed(test.carried):
            if _after(node.step) in when:
                if node.back_in not in (ANY, key[0]):
                    key = self._switch(node, key, node.back_in, mass)
                self.ledger.pay(node, mass, node.put_back)
        return key

    def _split(self, node: Node, key: Key, mass: FloatArray) -> States:
        """Rule 7: by finding."""
        if node.check is None:
            return {key: mass}
        footing, done, found = key
        out: States = {}
        for number, (_, chances, cost) in enumerate(node.findings):
            part = mass * chances
            if _is_some(part):
                self.ledger.pay(node, part, cost)
                out[footing, done, _with(found, node.check, number)] = part
        return out

    def _rail(self, node: Node, name: str | None, states: States, back_to: int | None = None) -> States:
        """A rail that comes to its end goes back to the footing held when it began, or to that one, and pays for it."""
        rail = node.rails.get(name or "")
        if rail is None:
            return states
        out: States = {}
        for key, mass in states.items():
            for after, rest in self._line(rail, {key: mass}, node).items():
                target = key[0] if back_to is None else back_to
                back = self._switch(node, after, target, rest) if after[0] != target else after
                add_to(out, back, rest)
        return out

    def _switch(self, node: Node | None, key: Key, target: int, mass: FloatArray) -> Key:
        cost, harm = self.plan.switch[key[0], target]
        self.ledger.pay(node, mass, cost)
        self.ledger.hurt(node, mass, harm.after(key[1]))
        return (target, key[1], key[2])

    def leave(self, node: Node | None, key: Key, mass: FloatArray) -> Key:
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


def _with(found: tuple[int, ...], place: int, number: int) -> tuple[int, ...]:
    return (*found[:place], number, *found[place + 1 :])


def _after(step: Step) -> str:
    return step.undo.after if step.undo else "never"


def _is_some(mass: FloatArray) -> bool:
    """Whether any of it is there; for so few numbers quicker than asking the array."""
    return any(mass.tolist())


def add_to(states: States, key: Key, mass: FloatArray) -> None:
    """Put mass into a state beside what is there."""
    states[key] = states[key] + mass if key in states else mass


def merged(states: States, bits: int, checks: frozenset[int]) -> States:
    """The states with everything forgotten that can no longer change anything, like ones added up."""
    out: States = {}
    for (footing, done, found), mass in states.items():
        if _is_some(mass):
            known = tuple([number if check in checks else -1 for check, number in enumerate(found)])
            add_to(out, (footing, done & bits, known), mass)
    return out
