"""A ladder made ready for numbers on one sort of unit: steps as bits, costs as numbers, conditions half decided.

The forecast walks a plan; everything that does not hang on what happens along the way is worked out here, once.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any, NamedTuple

import numpy as np

from mildladder.core.figures.judgement import (
    effort_minutes,
    elapsed_minutes,
    hands_on_minutes,
    hazard_points,
    search_rounds,
    undo_factor,
)
from mildladder.core.ladder.causes import FloatArray, cure_chances, finding_chances
from mildladder.core.ladder.conditions import (
    Condition,
    Ended,
    Found,
    World,
    endings_of,
    findings_of,
    mapped,
    parse,
    partly,
)
from mildladder.core.ladder.footings import footings_of, way
from mildladder.core.ladder.units import on_unit
from mildladder.core.ladder.walk import rungs_of
from mildladder.core.model import (
    Again,
    Cause,
    Effort,
    HandOff,
    HandOffRef,
    Hazard,
    Person,
    Playbook,
    PlaybookRef,
    RailEntry,
    Retest,
    Rung,
    Step,
)
from mildladder.core.model.step import SEARCH_FINDS

__all__ = ["ANY", "NORMAL", "Cost", "End", "Known", "Line", "Node", "Plan", "Touched", "Trial", "nodes_of", "plan_for"]

NORMAL = 0
ANY = -1


@dataclass(frozen=True)
class Cost:
    """Effort minutes and minutes on the clock."""

    effort: float = 0.0
    elapsed: float = 0.0

    def __add__(self, other: "Cost") -> "Cost":
        return Cost(self.effort + other.effort, self.elapsed + other.elapsed)

    def times(self, count: float) -> "Cost":
        """So many of it."""
        return Cost(count * self.effort, count * self.elapsed)


@dataclass(frozen=True)
class Harm:
    """Harm points by what was done before: (bit of the safeguard or 0, bare, eased) for each hazard."""

    hazards: tuple[tuple[int, float, float], ...] = ()

    def after(self, done: int) -> float:
        """Harm points once the steps in `done` have been carried out."""
        return sum(eased if done & guard else bare for guard, bare, eased in self.hazards)


@dataclass(eq=False)
class Node:
    """One rung, of the main line or of a rail. `bits`: its step and all that it includes; `undoes`: all that they undo;
    `check`: place of its finding in a state, or None; `ended`: the same of whether it could not be carried out, where a
    condition asks for that; `condition`: what findings must decide yet; True: always.

    retest: of a trial that it ends; round: of a fix that searches, one try with its retest; rounds: how many there are
    for what it ends, and for what it does not. put_back: putting back what it changed; back_in: the footing in which
    that is done.
    """

    index: int
    parent: "Node | None"
    path: str
    step: Step
    bit: int
    bits: int
    undoes: int
    condition: Condition
    cost: Cost
    done: float | FloatArray
    harm: Harm
    footing: int
    cures: FloatArray
    retest: Cost
    round: Cost
    rounds: tuple[float, float]
    put_back: Cost
    back_in: int
    check: int | None
    ended: int | None
    findings: list[tuple[str, FloatArray, Cost]]
    rails: dict[str, "Line"] = field(default_factory=dict)
    is_alone: bool = field(init=False, default=True)
    is_sure: bool = field(init=False)
    is_possible: bool = field(init=False)

    def __post_init__(self) -> None:
        """`is_alone`: in no trial with others; `is_sure`: it can always be carried out; `is_possible`: it ever can."""
        self.is_sure, self.is_possible = bool(np.all(self.done == 1)), bool(np.any(self.done > 0))


@dataclass(frozen=True)
class Trial:
    """Rungs done in a row and tested once; normally one. `is_again`: offered once more, certain to be done."""

    nodes: tuple[Node, ...]
    is_again: bool = False


@dataclass(frozen=True)
class End:
    """The end of a rail. `team`: cost of that hand-off; None: sent on to another playbook."""

    team: Cost | None


@dataclass
class Known:
    """What is the same on several sorts of units: figures by step, and what changing over between footings costs."""

    figures: dict[int, dict[str, Any]] = field(default_factory=dict)
    switch: dict[tuple[int, int], tuple[Cost, Harm]] = field(default_factory=dict)


@dataclass
class Line:
    """The main line or a rail: its parts in order; after each, the bits and checks that can still change something."""

    parts: list[Trial | End] = field(default_factory=list)
    matters: list[tuple[int, frozenset[int]]] = field(default_factory=list)


@dataclass
class Plan:
    """A ladder on one sort of unit.

    checks: steps with findings, and those findings, in the order of a state's places.
    switch: by (from, to) footing, what changing over costs and the harm of it. undone: by steps that are undone, as
    bits, the places of their findings."""

    main: Line
    nodes: list[Node]
    checks: dict[str, list[str]]
    switch: dict[tuple[int, int], tuple[Cost, Harm]]
    restart: Cost
    hand_off: Cost
    touched: list["Touched"]
    undone: dict[int, tuple[int, ...]]


class Touched(NamedTuple):
    """What a part of the main line, rails included, looks at and changes: steps done, as bits, and findings."""

    looks: int
    looks_at: frozenset[int]
    does: int
    finds: frozenset[int]


def plan_for(
    playbook: Playbook,
    facts: Mapping[str, str],
    types: Mapping[str, str],
    causes: tuple[Cause, ...],
    known: "Known",
    is_any_order: bool = False,
    with_theirs: bool = False,
) -> Plan:
    """The plan of the playbook's ladder on units of which these facts are known.

    known: one and the same for all sorts of units of a forecast, so that what is alike on them is worked out once.
    is_any_order: nothing is forgotten that any part of the main line looks at, wherever it stands. with_theirs: a
    hand-off also costs what it costs the receiving team.
    """
    return _Planner(playbook, facts, types, causes, known, with_theirs).plan(is_any_order)


def _trial_of(group: list[Node]) -> Trial:
    for node in group:
        node.is_alone = len(group) == 1
    return Trial(tuple(group))


def nodes_of(part: Trial | End) -> Iterator[Node]:
    """Every node of a part, and of the rails that hang on it."""
    if isinstance(part, Trial) and not part.is_again:
        for node in part.nodes:
            yield node
            for rail in node.rails.values():
                for inner in rail.parts:
                    yield from nodes_of(inner)


_COULD_NOT = "could-not"


def _end_of(step_id: str) -> str:
    """The name under which a state keeps that a step could not be carried out; no step can be called that."""
    return f"{step_id} ended"


def _as_finding(test: Condition) -> Condition:
    """How a step ended, as something found; of all ends a forecast by judgement gives one alone a chance."""
    if not isinstance(test, Ended):
        return test
    return Found(_end_of(test.step), _COULD_NOT) if test.outcome == _COULD_NOT else False


class _Planner:
    def __init__(
        self,
        playbook: Playbook,
        facts: Mapping[str, str],
        types: Mapping[str, str],
        causes: tuple[Cause, ...],
        known: Known,
        with_theirs: bool,
    ) -> None:
        self.with_theirs = with_theirs
        self.playbook, self.facts, self.types, self.causes, self.known = playbook, facts, types, causes, known
        self.weights = playbook.policy.weights
        self.steps = {step.id: on_unit(step, facts, types) for step in playbook.steps}
        self.bits = {step_id: 1 << number for number, step_id in enumerate(self.steps)}
        self.footings = {footing.id: number for number, footing in enumerate(playbook.footings, start=1)}
        self.nodes: list[Node] = []
        self.checks: dict[str, int] = {}
        whens = [parse(rung.when) for rung in rungs_of(playbook.ladder) if rung.when]
        ends = dict.fromkeys(end.step for when in whens for end in endings_of(when) if end.outcome == _COULD_NOT)
        self.ends = {step: number for number, step in enumerate(ends)}
        self.checks |= {_end_of(step): number for step, number in self.ends.items()}
        self.looked_at: dict[int, tuple[int, frozenset[int]]] = {}
        self.footing_guards = self._guards([h for footing in playbook.footings for h in footing.enter.hazards])

    def plan(self, is_any_order: bool) -> Plan:
        self.known.switch = self.known.switch or self._switches()
        main = self._line(self.playbook.ladder, None, "ladder")
        if is_any_order:
            self._mark_any_order(main)
        else:
            self._mark(main, 0, frozenset())
        team = self.playbook.default_hand_off
        return Plan(
            main=main,
            nodes=self.nodes,
            checks={name: self._may_show(name) for name in self.checks},
            switch=self.known.switch,
            restart=self._cost(self.playbook.restart),
            hand_off=self._team(team) if team else Cost(),
            undone={node.undoes: self._places(node.undoes) for node in self.nodes if node.undoes},
            touched=[self._touched(part) for part in main.parts] if is_any_order else [],
        )

    def _may_show(self, name: str) -> list[str]:
        step = self.steps.get(name)
        return [finding.id for finding in step.findings] if step else [_COULD_NOT]

    def _places(self, steps: int) -> tuple[int, ...]:
        return tuple(place for name, place in self.checks.items() if self.bits.get(name, 0) & steps)

    def _team(self, team: HandOff) -> Cost:
        return self._cost(team.effort) + self._cost(team.theirs if self.with_theirs else None)

    def _cost(self, effort: Effort | None) -> Cost:
        return Cost(effort_minutes(effort, self.weights), elapsed_minutes(effort)) if effort else Cost()

    def _line(self, entries: tuple[RailEntry, ...], parent: Node | None, path: str) -> Line:
        line = Line()
        group: list[Node] = []
        group_id: str | None = None
        for number, entry in enumerate(entries):
            trial = entry.trial if isinstance(entry, Rung) else None
            if group and (trial is None or trial != group_id):
                line.parts.append(_trial_of(group))
                group = []
            match entry:
                case Rung():
                    node = self._node(entry, parent, f"{path}.{number}")
                    if trial is None:
                        line.parts.append(Trial((node,)))
                    else:
                        group.append(node)
                        group_id = trial
                case Again():
                    assert parent is not None
                    line.parts.append(Trial((parent,), is_again=True))
                case HandOffRef(hand_off=team_id):
                    team = next(team for team in self.playbook.hand_offs if team.id == team_id)
                    line.parts.append(End(self._team(team)))
                case PlaybookRef():
                    line.parts.append(End(None))
        if group:
            line.parts.append(_trial_of(group))
        return line

    def _node(self, rung: Rung, parent: Node | None, path: str) -> Node:
        step = self.steps[rung.step]
        when = mapped(parse(rung.when), _as_finding) if rung.when else True
        left = partly(when, World(facts=self.facts, types=self.types))
        node = Node(
            index=len(self.nodes),
            parent=parent,
            path=path,
            condition=True if left is None else left,
            check=self.checks.setdefault(step.id, len(self.checks)) if step.findings else None,
            ended=self.ends.get(step.id),
            **self._figures(step),
        )
        self.nodes.append(node)
        node.rails = {key: self._line(entries, node, f"{path}.on.{key}") for key, entries in rung.on.items()}
        return node

    def _figures(self, step: Step) -> dict[str, Any]:
        """What a step comes to in numbers, wherever it stands; the same for all sorts of units that it is alike on."""
        made = self.known.figures.get(id(step))
        if made is None:
            retest = self.playbook.retest if step.is_tested else None
            tried = self._retest(retest, step.effort.by) if retest else Cost()
            made = self.known.figures[id(step)] = {
                "step": step,
                "bit": self.bits[step.id],
                "bits": self._with_included(step.id),
                "undoes": self._undone_by(step.id),
                "cost": self._cost(step.effort),
                "done": step.done,
                "harm": self._harm(step.hazards, undo_factor(step)),
                "footing": self._footing(step.footing),
                "cures": cure_chances(step, self.causes) if step.is_tested else np.zeros(len(self.causes)),
                "retest": Cost() if step.search else tried,
                "round": self._round(step, tried),
                "rounds": self._rounds(step),
                "put_back": self._cost(step.undo.effort if step.undo else None),
                "back_in": self._footing(step.undo.footing if step.undo and step.undo.footing else step.footing),
                "findings": self._findings(step),
            }
        return made

    def _retest(self, retest: Retest, by: Person) -> Cost:
        hands_on = hands_on_minutes(retest.hands_on, by, self.weights)
        return Cost(hands_on + retest.wait * self.weights.wait, retest.hands_on + retest.wait)

    def _findings(self, step: Step) -> list[tuple[str, FloatArray, Cost]]:
        if not step.findings:
            return []
        table = finding_chances(step, self.causes)
        return [(f.id, table[row], self._search_cost(step, f.id)) for row, f in enumerate(step.findings)]

    def _search_cost(self, step: Step, finding: str) -> Cost:
        if step.search is None or step.is_tested:
            return Cost()
        rounds = search_rounds(step.search.count, step.search.how, finding == SEARCH_FINDS[0])
        return self._cost(step.search.round).times(rounds)

    def _round(self, step: Step, retest: Cost) -> Cost:
        """Trying one suspect, with its retest, and the restart that must come before it."""
        if step.search is None or not step.is_tested:
            return Cost()
        restart = self._cost(self.playbook.restart if step.proves == "after-restart" else None)
        return self._cost(step.search.round) + restart + retest

    def _rounds(self, step: Step) -> tuple[float, float]:
        """How often a fix that searches tries: until one suspect is it, and when none is."""
        if step.search is None or not step.is_tested:
            return 0.0, 0.0
        count, how = step.search.count, step.search.how
        return search_rounds(count, how, True, is_fix=True), search_rounds(count, how, False, is_fix=True)

    def _with_included(self, step_id: str) -> int:
        bits, waiting = 0, [step_id]
        while waiting:
            current = waiting.pop()
            if not bits & self.bits[current]:
                bits |= self.bits[current]
                waiting.extend(self.steps[current].includes)
        return bits

    def _undone_by(self, step_id: str) -> int:
        """What a step undoes, and what it includes; what it does itself is done."""
        bits, does = 0, self._with_included(step_id)
        for name, bit in self.bits.items():
            if does & bit:
                bits |= sum(self.bits[other] for other in set(self.steps[name].cancels))
        return bits & ~does

    def _footing(self, footing: str | None) -> int:
        return NORMAL if footing is None else ANY if footing == "any" else self.footings[footing]

    def _harm(self, hazards: tuple[Hazard, ...], undo: float) -> Harm:
        return Harm(
            tuple(
                (self.bits.get(h.eased_by or "", 0), hazard_points(h, undo, False), hazard_points(h, undo, True))
                for h in hazards
            )
        )

    def _guards(self, hazards: list[Hazard]) -> int:
        guards = 0
        for hazard in hazards:
            guards |= self.bits.get(hazard.eased_by or "", 0)
        return guards

    def _switches(self) -> dict[tuple[int, int], tuple[Cost, Harm]]:
        """What changing over from any footing to any other costs, and the harm of it."""
        by_id = footings_of(self.playbook)
        numbers: list[tuple[str | None, int]] = [(None, NORMAL), *self.footings.items()]
        table = {}
        for origin, leaving in numbers:
            for target, entering in numbers:
                left, entered = way(by_id, origin, target)
                cost = sum((self._cost(footing.leave) for footing in reversed(left)), Cost())
                cost = sum((self._cost(footing.enter) for footing in entered), cost)
                hazards = tuple(hazard for footing in entered for hazard in footing.enter.hazards)
                table[leaving, entering] = (cost, self._harm(hazards, 1.0))
        return table

    def _mark_any_order(self, main: Line) -> None:
        bits, checks = self.footing_guards, frozenset[int]()
        for part in main.parts:
            more_bits, more_checks = self._looked_at(part)
            bits, checks = bits | more_bits, checks | more_checks
        main.matters = [(bits, checks)] * len(main.parts)
        for node in self.nodes:
            if node.parent is None:
                self._mark_rails(node, bits, checks)

    def _touched(self, part: Trial | End) -> Touched:
        looks, looks_at = self._looked_at(part)
        does, finds = 0, set()
        for node in nodes_of(part):
            does |= node.bits | node.undoes
            finds |= {place for place in (node.check, node.ended) if place is not None}
            finds |= set(self._places(node.undoes))
        return Touched(looks | self.footing_guards, looks_at, does, frozenset(finds))

    def _mark(self, line: Line, bits: int, checks: frozenset[int]) -> None:
        """Note after each part what can still change something below it: on the line, then where the line joins."""
        line.matters = []
        for part in reversed(line.parts):
            line.matters.insert(0, (bits | self.footing_guards, checks))
            if isinstance(part, Trial) and not part.is_again:
                for node in part.nodes:
                    self._mark_rails(node, bits, checks)
            more_bits, more_checks = self._looked_at(part)
            bits, checks = bits | more_bits, checks | more_checks

    def _mark_rails(self, node: Node, bits: int, checks: frozenset[int]) -> None:
        """A could-not rail may offer the step again and go on after it, so the other rails join that rail too."""
        for part in node.rails["could-not"].parts if "could-not" in node.rails else ():
            more_bits, more_checks = self._looked_at(part)
            bits, checks = bits | more_bits, checks | more_checks
        for rail in node.rails.values():
            self._mark(rail, bits, checks)

    def _looked_at(self, part: Trial | End) -> tuple[int, frozenset[int]]:
        """The steps whose having been done, and the checks whose finding, a part looks at, rails included."""
        found = self.looked_at.get(id(part))
        if found is None:
            found = self.looked_at[id(part)] = self._look_at(part)
        return found

    def _look_at(self, part: Trial | End) -> tuple[int, frozenset[int]]:
        bits, checks = 0, frozenset[int]()
        if isinstance(part, End):
            return bits, checks
        for node in part.nodes:
            bits |= node.bit | self._guards(list(node.step.hazards))
            tested = {self.checks[test.check] for test in findings_of(node.condition) if test.check in self.checks}
            checks |= tested
            if node.rails and node.check is not None:
                checks |= {node.check}
            for name, rail in node.rails.items():
                for inner in () if part.is_again and name == "could-not" else rail.parts:
                    inner_bits, inner_checks = self._looked_at(inner)
                    bits, checks = bits | inner_bits, checks | inner_checks
        return bits, checks
