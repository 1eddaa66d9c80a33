"""What each piece of a ladder costs and leaves, whatever stood above it (method, section 4).

A latent state is a sort of unit, a cause, and how everything will turn out that one piece decides and another looks
at: findings that conditions test or whose rails hold shared steps, and whether uncertain steps can be carried out.
Given a latent state, what a set of pieces leaves does not hang on their order, so one product describes it
(Vomlelova 2003 for why the general case needs it). The pieces are asked by letting mass flow through them, so that the
ordering and the forecast cannot disagree.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field
from itertools import product

import numpy as np
import numpy.typing as npt

from mildladder.core.figures.flow import Flow, Key, States, merged
from mildladder.core.figures.plan import ANY, NORMAL, Cost, Known, Node, Plan, Touched, Trial, nodes_of, plan_for
from mildladder.core.ladder.causes import FloatArray, all_causes, priors_on
from mildladder.core.ladder.units import fact_types, unit_groups
from mildladder.core.ordering.blocks import Ladder

__all__ = ["Leg", "NotSeparable", "Pieces", "pieces_of"]

IntArray = npt.NDArray[np.int64]
_MOST_LATENT = 2_000


class NotSeparable(Exception):
    """What a set of pieces leaves hangs on their order, so no product describes it."""


@dataclass(frozen=True)
class Leg:
    """What one piece does to a case that comes to it, by latent state.

    effort, harm: shape (footings, L), for the footing that the case is in; lands: the footing that it leaves; keep:
    shape (L,), the share that goes on below.
    """

    effort: FloatArray
    harm: FloatArray
    keep: FloatArray
    lands: IntArray


@dataclass
class Pieces:
    """A ladder's pieces, ready to be ordered.

    prior: P(latent state), shape (L,). related: for each piece the bit set of those whose having been done changes
    what it does. finish: effort of leaving each footing and handing off, shape (footings,).
    """

    ladder: Ladder
    prior: FloatArray
    related: list[int]
    finish: FloatArray
    groups: list["_Group"]
    legs: dict[tuple[int, int], Leg] = field(default_factory=dict)
    weights: dict[int, FloatArray] = field(default_factory=dict)

    def leg(self, piece: int, above: int) -> Leg:
        """What a piece does below the pieces of the bit set `above`. Raises NotSeparable."""
        key = (piece, above & self.related[piece])
        if key not in self.legs:
            before = self._settled(key[1])
            parts = [group.leg(piece, before) for group in self.groups]
            self.legs[key] = Leg(
                effort=np.concatenate([leg.effort for leg in parts], axis=1),
                harm=np.concatenate([leg.harm for leg in parts], axis=1),
                keep=np.concatenate([leg.keep for leg in parts]),
                lands=np.concatenate([leg.lands for leg in parts], axis=1),
            )
        return self.legs[key]

    def weight(self, above: int) -> FloatArray:
        """What is left of each latent state below a set of pieces that keeps the rules, shape (L,)."""
        if above not in self.weights:
            left, done = self.prior, 0
            for piece in self._settled(above):
                left = left * self.leg(piece, done).keep
                done |= 1 << piece
            self.weights[above] = left
        return self.weights[above]

    def _settled(self, pieces: int) -> list[int]:
        """The pieces of a bit set in an order that keeps the rules among them as far as it goes."""
        left = [number for number in range(len(self.related)) if pieces >> number & 1]
        done: list[int] = []
        while left:
            above = sum(1 << piece for piece in done)
            free = (p for p in left if not any(w & pieces and not w & above for w in self.ladder.waits[p]))
            following = next(free, left[0])
            left.remove(following)
            done.append(following)
        return done


def pieces_of(ladder: Ladder) -> Pieces:
    """The pieces of a ladder. Raises NotSeparable where no product of them describes what a set of them leaves."""
    playbook = ladder.playbook
    causes = all_causes(playbook)
    types, known = fact_types(playbook), Known()
    groups = [
        _Group(
            ladder,
            plan_for(playbook, unit.facts, types, causes, known, is_any_order=True),
            unit.share * priors_on(causes, unit.facts, types),
        )
        for unit in unit_groups(playbook)
    ]
    if sum(len(group.prior) for group in groups) > _MOST_LATENT:
        raise NotSeparable("too many latent states")
    related = [0] * len(ladder.pieces)
    for group in groups:
        related = [mine | more for mine, more in zip(related, group.related(), strict=True)]
    return Pieces(
        ladder=ladder,
        prior=np.concatenate([group.prior for group in groups]),
        related=related,
        finish=groups[0].finish(),
        groups=groups,
    )


class _Sums:
    """What mass pays and suffers, by latent state; the rest of what it comes to is not asked."""

    def __init__(self, size: int) -> None:
        self.effort = np.zeros(size)
        self.harm = np.zeros(size)

    def note(self, name: str, node: Node | None, mass: FloatArray, amount: float = 1.0) -> None:
        pass

    def pay(self, node: Node | None, mass: FloatArray, cost: Cost) -> None:
        if cost.effort:
            self.effort += mass * cost.effort

    def hurt(self, node: Node | None, mass: FloatArray, points: float) -> None:
        if points:
            self.harm += mass * points


class _Group:
    """The pieces on one sort of unit."""

    def __init__(self, ladder: Ladder, plan: Plan, prior: FloatArray) -> None:
        self.plan = plan
        self.parts = [[plan.main.parts[block] for block in piece] for piece in ladder.pieces]
        self.touched = [_joined([plan.touched[block] for block in piece]) for piece in ladder.pieces]
        self.entries: dict[tuple[int, tuple[int, ...]], States] = {}
        self._refuse_what_hangs_on_order()
        self.prior = self._told_apart(prior)

    def finish(self) -> FloatArray:
        """Effort of leaving each footing and handing off."""
        footings = 1 + max(origin for origin, _ in self.plan.switch)
        leave = [self.plan.switch[footing, NORMAL][0].effort for footing in range(footings)]
        return np.array(leave) + self.plan.hand_off.effort

    def related(self) -> list[int]:
        """For each piece, the bit set of those that change what it looks at, directly or by way of others."""
        direct = [
            sum(
                1 << other
                for other, its in enumerate(self.touched)
                if other != piece and (its.does & mine.looks or its.finds & mine.looks_at)
            )
            for piece, mine in enumerate(self.touched)
        ]
        while True:
            wider = [self._with_theirs(piece, direct) for piece in range(len(direct))]
            if wider == direct:
                return direct
            direct = wider

    def _with_theirs(self, piece: int, direct: list[int]) -> int:
        others = direct[piece]
        for other in range(len(direct)):
            if direct[piece] >> other & 1:
                others |= direct[other]
        return others & ~(1 << piece)

    def leg(self, piece: int, before: Sequence[int]) -> Leg:
        entry = self._entry(piece, tuple(before))
        made = [self._through(piece, footing, entry) for footing in range(len(self.finish()))]
        return Leg(
            effort=np.array([leg.effort for leg in made]),
            harm=np.array([leg.harm for leg in made]),
            keep=made[0].keep,
            lands=np.array([leg.lands for leg in made]),
        )

    def _through(self, piece: int, footing: int, entry: States) -> Leg:
        book = _Sums(len(self.prior))
        left = self._run(piece, {(footing, done, found): mass for (_, done, found), mass in entry.items()}, book)
        keep, lands = np.zeros(len(self.prior)), np.full(len(self.prior), -1)
        for (where, _, _), mass in left.items():
            here = mass > 0
            if np.any((lands[here] != where) & (lands[here] >= 0)):
                raise NotSeparable("a piece may leave the same case in two footings")
            lands[here] = where
            keep += mass
        alive = lands[lands >= 0]
        lands[lands < 0] = np.bincount(alive).argmax() if alive.size else footing
        return Leg(book.effort, book.harm, keep, lands)

    def _entry(self, piece: int, before: tuple[int, ...]) -> States:
        """How the cases stand that come to a piece below those: all of each latent state's mass in one state."""
        if (piece, before) not in self.entries:
            states: States = {(NORMAL, 0, (-1,) * len(self.plan.checks)): np.ones(len(self.prior))}
            for other in before:
                states = self._run(other, states, _Sums(len(self.prior)))
            self.entries[piece, before] = self._seen_by(piece, states)
        return self.entries[piece, before]

    def _seen_by(self, piece: int, states: States) -> States:
        mine = self.touched[piece]
        seen: dict[Key, FloatArray] = {}
        for (_, done, found), mass in states.items():
            known = tuple([number if check in mine.looks_at else -1 for check, number in enumerate(found)])
            key = (NORMAL, done & mine.looks, known)
            seen[key] = np.maximum(seen.get(key, np.zeros(len(mass))), (mass > 0).astype(float))
        if seen and np.any(np.sum(list(seen.values()), axis=0) > 1):
            raise NotSeparable("how a case stands is not settled by its latent state")
        return seen

    def _run(self, piece: int, states: States, book: _Sums) -> States:
        flow = Flow(self.plan, book)
        bits, checks = self.plan.main.matters[0] if self.plan.main.matters else (0, frozenset[int]())
        for part in self.parts[piece]:
            assert isinstance(part, Trial)
            states = merged(flow.trial(part, states), bits, checks)
        return states

    # Latent states

    def _refuse_what_hangs_on_order(self) -> None:
        """Four things break the product across pieces: includes, cancels, a check that matters, an uncertain step."""
        homes: dict[int, set[int]] = {}
        nodes: dict[int, Node] = {}
        for piece, node in self._nodes():
            homes.setdefault(node.bit, set()).add(piece)
            nodes[node.bit] = node
        looked_at = {check for touched in self.touched for check in touched.looks_at}
        for bit, pieces in homes.items():
            node = nodes[bit]
            if len(pieces) > 1 and (not node.is_sure or node.check in looked_at or node.ended in looked_at):
                raise NotSeparable(f"'{node.step.id}' stands in two blocks")
        for piece, node in self._nodes():
            others = [touched for number, touched in enumerate(self.touched) if number != piece]
            if any(node.undoes & (touched.looks | touched.does) for touched in others):
                raise NotSeparable(f"'{node.step.id}' undoes what another block does or looks at")
            for bit, pieces in homes.items():
                if node.bits & ~node.bit & bit and pieces - {piece}:
                    other = nodes[bit]
                    if other.step.is_tested or other.check is not None or not other.is_sure:
                        raise NotSeparable(f"'{node.step.id}' includes '{other.step.id}' of another block")

    def _nodes(self) -> list[tuple[int, Node]]:
        return [(piece, node) for piece, parts in enumerate(self.parts) for part in parts for node in nodes_of(part)]

    def _told_apart(self, prior: FloatArray) -> FloatArray:
        """Make every node speak of latent states; their prior."""
        checks: dict[int, Node] = {}
        coins: dict[int, Node] = {}
        for piece, node in self._nodes():
            others = [touched for number, touched in enumerate(self.touched) if number != piece]
            is_finding_seen = node.check is not None and self._finding_matters(piece, node, others)
            if is_finding_seen and node.check is not None:
                checks[node.check] = node
            is_seen = is_finding_seen or self._matters(node, others) or _ends_elsewhere(node)
            if is_seen and not node.is_sure and node.is_possible:
                coins[node.index] = node
        cause_of, share, turns = self._latent_states(prior, checks, coins)
        for _, node in self._nodes():
            node.cures = node.cures[cause_of]
            if node.check in checks:
                node.findings = [
                    (name, (turns["check", node.check] == number).astype(float), cost)
                    for number, (name, _, cost) in enumerate(node.findings)
                ]
            else:
                node.findings = [(name, chances[cause_of], cost) for name, chances, cost in node.findings]
            if node.index in coins:
                node.done = turns["coin", node.index].astype(float)
        return share

    def _latent_states(
        self, prior: FloatArray, checks: dict[int, Node], coins: dict[int, Node]
    ) -> tuple[IntArray, FloatArray, dict[tuple[str, int], IntArray]]:
        """Cause, prior and every turn of each latent state that can be."""
        ways = [range(len(node.findings)) for node in checks.values()] + [range(2)] * len(coins)
        size = len(prior)
        for way in ways:
            size *= len(way)
        if size > 50 * _MOST_LATENT:
            raise NotSeparable("too many latent states")
        rows = []
        for cause, weight in enumerate(prior):
            for turn in product(*ways):
                share = float(weight)
                for node, number in zip(checks.values(), turn, strict=False):
                    share *= node.findings[number][1][cause]
                for node, comes in zip(coins.values(), turn[len(checks) :], strict=True):
                    share *= float(node.done) if comes else 1 - float(node.done)
                if share > 0:
                    rows.append((share, cause, *turn))
        names = [("check", check) for check in checks] + [("coin", index) for index in coins]
        table = np.array([row[1:] for row in rows], dtype=np.int64).reshape(len(rows), 1 + len(names))
        turns = {name: table[:, 1 + column] for column, name in enumerate(names)}
        return table[:, 0], np.array([row[0] for row in rows]), turns

    def _finding_matters(self, piece: int, node: Node, others: list[Touched]) -> bool:
        """Whether a finding decides what another piece looks at, by itself or by what hangs on it."""
        if any(node.check in touched.looks_at for touched in others):
            return True
        rails = [inner for rail in node.rails.values() for part in rail.parts for inner in nodes_of(part)]
        if any(_is_seen(inner, others) for inner in rails):
            return True
        return node.check in self.touched[piece].looks_at and any(
            _is_seen(inner, others) for number, inner in self._nodes() if number == piece
        )

    def _matters(self, node: Node, others: list[Touched]) -> bool:
        """Whether it matters outside its piece that the node could be carried out."""
        return any(_is_seen(inner, others) for inner in nodes_of(Trial((node,))))


def _ends_elsewhere(node: Node) -> bool:
    """Whether the footing in which its rung ends hangs on its having been carried out, for then it is put back."""
    is_put_back = node.step.undo is not None and node.step.undo.after in ("no-change", "always") and node.back_in != ANY
    return is_put_back and not (node.is_alone and node.step.proves != "after-leaving" and node.back_in == node.footing)


def _is_seen(node: Node, others: list[Touched]) -> bool:
    return any(
        node.bits & touched.looks or node.check in touched.looks_at or node.ended in touched.looks_at
        for touched in others
    )


def _joined(parts: Sequence[Touched]) -> Touched:
    looks, looks_at, does, finds = 0, frozenset[int](), 0, frozenset[int]()
    for part in parts:
        looks, looks_at = looks | part.looks, looks_at | part.looks_at
        does, finds = does | part.does, finds | part.finds
    return Touched(looks, looks_at, does, finds)
