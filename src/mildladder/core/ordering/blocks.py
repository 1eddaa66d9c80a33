"""What is ordered, and the rules that every order must keep (method, section 4).

A block is a rung of the main line with its side rails, or a whole trial group. Blocks of one `keep` group move as one
piece. Rules say which block must stand above which, and why, so that a conflict can be told as a chain of reasons.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from itertools import pairwise

from mildladder.core.figures.judgement import risk_grade
from mildladder.core.ladder.bonds import Rule, bonds
from mildladder.core.ladder.units import fact_types, on_unit, unit_groups
from mildladder.core.ladder.walk import rungs_of
from mildladder.core.model import Mode, Playbook, Rung, Step

__all__ = ["Ladder"]

_GRADES = ("harmless", "mild", "guarded", "rough", "severe")


@dataclass(frozen=True)
class Block:
    """Rungs of the main line, by index, that cannot be parted."""

    rungs: tuple[int, ...]


@dataclass(frozen=True)
class Ladder:
    """The main line of a playbook as blocks, pieces and rules; blocks are numbered as they stand in the draft."""

    playbook: Playbook
    mode: Mode
    blocks: tuple[Block, ...] = field(init=False)

    def __post_init__(self) -> None:
        object.__setattr__(self, "blocks", tuple(_blocks(self.playbook.ladder)))

    @cached_property
    def rules(self) -> list[Rule]:
        """Every rule between two blocks; that `keep` groups stay together is in the pieces."""
        made = [*self._bonds(), *self._pins()]
        if self.mode == "mildest":
            made += self._mildest()
        return list(dict.fromkeys(made))

    @cached_property
    def pieces(self) -> list[tuple[int, ...]]:
        """Blocks that move as one, in the order that they keep: a `keep` group, or a block by itself."""
        groups: dict[str, list[int]] = {}
        for number, block in enumerate(self.blocks):
            keep = next(
                (self.playbook.ladder[rung].keep for rung in block.rungs if self.playbook.ladder[rung].keep), None
            )
            groups.setdefault(f"keep {keep}" if keep else f"block {number}", []).append(number)
        return sorted(tuple(group) for group in groups.values())

    @cached_property
    def owner(self) -> list[int]:
        """The piece that each block is in."""
        home = {block: number for number, piece in enumerate(self.pieces) for block in piece}
        return [home[block] for block in range(len(self.blocks))]

    @cached_property
    def waits(self) -> list[list[int]]:
        """For each piece, bit sets of pieces, of each of which one must stand above it."""
        return self._waits(self.rules)

    def _waits(self, rules: Sequence[Rule]) -> list[list[int]]:
        made: list[set[int]] = [set() for _ in self.pieces]
        for rule in rules:
            if not self.is_settled(rule):
                mine = self.owner[rule.below]
                made[mine].add(sum(1 << piece for piece in {self.owner[block] for block in rule.above} - {mine}))
        return [sorted(sets) for sets in made]

    def is_settled(self, rule: Rule) -> bool:
        """Whether a piece keeps the rule by itself, wherever it stands."""
        piece = self.pieces[self.owner[rule.below]]
        return any(block in piece and piece.index(block) < piece.index(rule.below) for block in rule.above)

    def some_order(self) -> list[int]:
        """An order of pieces that keeps every rule as far as that goes; shorter than the pieces when none does."""
        return _dependency_order(self.waits)

    def conflict(self) -> list[Rule]:
        """Rules that no order satisfies together; empty when some order satisfies all.

        The shortest circle of rules that leave no choice; where there is none, the fewest found by leaving out one
        after the other.
        """
        stuck = set(range(len(self.pieces))) - set(self.some_order())
        if not stuck:
            return []
        rules = [rule for rule in self.rules if self.owner[rule.below] in stuck and not self.is_settled(rule)]
        wants: dict[int, list[tuple[int, Rule]]] = {piece: [] for piece in stuck}
        for rule in rules:
            above = {self.owner[block] for block in rule.above}
            if len(above) == 1 and above <= stuck:
                wants[self.owner[rule.below]] += [(piece, rule) for piece in above]
        circles = [circle for piece in sorted(stuck) if (circle := _circle(piece, wants))]
        found = min(circles, key=len) if circles else self._core(rules)
        return [*found, *self._keeps_in(found)]

    def _core(self, rules: list[Rule]) -> list[Rule]:
        """Rules none of which can be taken away without some order satisfying the rest."""
        for rule in list(rules):
            rest = [one for one in rules if one is not rule]
            if len(_dependency_order(self._waits(rest))) < len(self.pieces):
                rules = rest
        return rules

    def _keeps_in(self, circle: Sequence[Rule]) -> list[Rule]:
        """The rules of keeping together that a circle leans on: where it enters a piece at one block and leaves it at
        another."""
        below = {rule.below for rule in circle}
        above = {block for rule in circle for block in rule.above}
        torn = {self.owner[b] for b in below for a in above if a != b and self.owner[a] == self.owner[b]}
        return [rule for rule in self._keeps() if self.owner[rule.below] in torn]

    def blocks_in(self, order: Sequence[int]) -> list[int]:
        """The blocks of an order of pieces."""
        return [block for piece in order for block in self.pieces[piece]]

    def rungs(self, order: Sequence[int]) -> list[int]:
        """The indices of the main-line rungs, for an order of blocks."""
        return [rung for block in order for rung in self.blocks[block].rungs]

    def why_no_order(self) -> str | None:
        """The rules that no order keeps together, as a sentence without its end; None where some order keeps all."""
        chain = self.conflict()
        return f"no order keeps every rule: {'; '.join(rule.says for rule in chain)}" if chain else None

    def broken(self, order: Sequence[int]) -> list[Rule]:
        """The rules that an order of all blocks does not keep, `keep` groups that are torn apart included."""
        place = {block: position for position, block in enumerate(order)}
        torn = [rule for rule in self._keeps() if place[rule.below] != place[rule.above[0]] + 1]
        places = [place[block] for block in range(len(self.blocks))]
        return [*(rule for rule in self.rules if not rule.is_kept(places)), *torn]

    def name(self, block: int) -> str:
        """The titles of a block's rungs."""
        steps = [self.playbook.step(self.playbook.ladder[rung].step) for rung in self.blocks[block].rungs]
        return " + ".join(f"“{step.title}”" for step in steps)

    @cached_property
    def _owner(self) -> dict[int, int]:
        return {rung: number for number, block in enumerate(self.blocks) for rung in block.rungs}

    def _bonds(self) -> Iterator[Rule]:
        """Bonds between rungs, as rules between blocks; what a block holds above the user itself is settled."""
        for bond in bonds(self.playbook):
            below = self._owner[bond.below]
            if not any(self._owner[holder] == below and holder < bond.below for holder in bond.above):
                above = tuple(dict.fromkeys(self._owner[h] for h in bond.above if self._owner[h] != below))
                if above:
                    yield Rule(bond.kind, above, below, bond.says)

    def _pins(self) -> Iterator[Rule]:
        pins = [self._pin(block) for block in self.blocks]
        for first, mine in enumerate(pins):
            for second, other in enumerate(pins):
                if first != second and (mine == "first" != other or (other == "last" != mine)):
                    pinned, end = (first, "first") if mine == "first" else (second, "last")
                    says = (
                        f"{self.name(pinned)} is pinned {end}, so {self.name(first)} stands above {self.name(second)}"
                    )
                    yield Rule("pin", (first,), second, says)

    def _pin(self, block: Block) -> str | None:
        return next((self.playbook.ladder[rung].pin for rung in block.rungs if self.playbook.ladder[rung].pin), None)

    def _keeps(self) -> Iterator[Rule]:
        for piece in self.pieces:
            for above, below in pairwise(piece):
                yield Rule("keep", (above,), below, f"{self.name(above)} and {self.name(below)} are kept together")

    def _mildest(self) -> Iterator[Rule]:
        """No block above one of a lower grade; pinned blocks, and those without a fix or workaround, are exempt."""
        for above, mild in enumerate(self.grades):
            for below, rough in enumerate(self.grades):
                if mild is not None and rough is not None and mild < rough:
                    says = (
                        f"{self.name(above)} is {_GRADES[mild]} and {self.name(below)} {_GRADES[rough]}, and mildest"
                        " stands first"
                    )
                    yield Rule("mildest", (above,), below, says)

    @cached_property
    def grades(self) -> list[int | None]:
        """Each block's risk grade for mildest first: eased, and lowered to that of what it alone makes possible."""
        own = [None if self._pin(block) else self._own_grade(block) for block in self.blocks]
        lowest = [self._lowest(number, own, set()) for number in range(len(own))]
        return [None if grade is None else min(grade, low) for grade, low in zip(own, lowest, strict=True)]

    def _lowest(self, block: int, own: list[int | None], seen: set[int]) -> int:
        """The lowest grade of what must stand below a block because the block alone holds what it needs."""
        low = 5
        for rule in self._sole_bonds:
            if rule.above == (block,) and rule.below not in seen:
                grade = own[rule.below]
                low = min(low, 5 if grade is None else grade, self._lowest(rule.below, own, {*seen, block}))
        return low

    @cached_property
    def _sole_bonds(self) -> list[Rule]:
        return [rule for rule in self._bonds() if len(rule.above) == 1]

    def _own_grade(self, block: Block) -> int | None:
        grades = [
            self._eased_grade(self.playbook.step(self.playbook.ladder[rung].step))
            for rung in block.rungs
            if self.playbook.step(self.playbook.ladder[rung].step).is_tested
        ]
        return max(grades, default=None)

    def _eased_grade(self, step: Step) -> int:
        """On the sort of unit where it is worst, eased by every safeguard that stands on the ladder at all."""
        standing = {rung.step for rung in rungs_of(self.playbook.ladder)}
        types = fact_types(self.playbook)
        return max(risk_grade(on_unit(step, group.facts, types), standing) for group in self._groups)

    @cached_property
    def _groups(self) -> list:  # type: ignore[type-arg]
        return unit_groups(self.playbook)


def _blocks(ladder: Sequence[Rung]) -> Iterator[Block]:
    group: list[int] = []
    for number, rung in enumerate(ladder):
        if group and (rung.trial is None or rung.trial != ladder[group[-1]].trial):
            yield Block(tuple(group))
            group = []
        group.append(number)
        if rung.trial is None:
            yield Block((number,))
            group = []
    if group:
        yield Block(tuple(group))


def _dependency_order(waits: list[list[int]]) -> list[int]:
    """Pieces in an order in which each has above it what it waits for, the first in the draft first."""
    order: list[int] = []
    above = 0
    while True:
        free = (p for p in range(len(waits)) if not above >> p & 1 and all(wait & above for wait in waits[p]))
        following = next(free, None)
        if following is None:
            return order
        order.append(following)
        above |= 1 << following


def _circle(start: int, wants: dict[int, list[tuple[int, Rule]]]) -> list[Rule]:
    """The shortest way from a piece back to itself along what must stand above what."""
    ways: list[tuple[int, list[Rule]]] = [(start, [])]
    seen: set[int] = set()
    for piece, rules in ways:
        for above, rule in wants[piece]:
            if above == start:
                return [*rules, rule]
            if above not in seen:
                seen.add(above)
                ways.append((above, [*rules, rule]))
    return []
