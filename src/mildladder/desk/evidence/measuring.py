"""What cases of a file show of a playbook of a file, without any database."""

from collections import Counter, defaultdict
from collections.abc import Iterable
from datetime import UTC, date, timedelta

from mildladder.core.advice.replay import replay
from mildladder.core.errors import BadInput
from mildladder.core.evidence.comebacks import Cured
from mildladder.core.evidence.estimate import Estimated, StepEstimate
from mildladder.core.evidence.forward import Span, told_of
from mildladder.core.evidence.rates import Rate, StepEvidence, count_steps, no_evidence
from mildladder.core.evidence.records import KeyedTally
from mildladder.core.model import Case, Playbook, Shape
from mildladder.core.tally.keys import COUNTED_TYPES, Link
from mildladder.core.tally.returns import links_of, visit_of
from mildladder.core.tally.signature import Tally, read_signature, signature_text, tried_part
from mildladder.desk.evidence.studying import EstimateView, Log, study
from mildladder.store.settings import RETURN_WINDOW

__all__ = ["measure", "replay_cases"]


class MeasuredStep(Shape):
    """One step: how often it was tried, resolved and held, raw and estimated. learned, units: as `StepEstimate`."""

    step: str
    tried: int
    resolved: int
    held: int
    raw: Rate
    first: Rate
    here: Rate
    lasting: Rate
    learned: float | None
    units: float | None
    not_available: int
    could_not: int
    nothing_to_do: int


class MeasuredCause(Shape):
    """How often a cause is behind the symptom."""

    cause: str
    mean: float | None
    low: float | None
    high: float | None


class Diagnostics(Shape):
    """How well the chains agree: the worst R-hat and the least effective size."""

    rhat: float
    ess: float


class CasesLeftOut(Shape):
    """Cases that say nothing: perhaps two faults, and logged twice."""

    better: int
    double: int


class Warned(Shape):
    """Something about the cases that touches the figures."""

    code: str
    says: str
    cases: int


class Measured(Shape):
    """Everything that the cases show. cases: of the playbook's symptom; other: of others, which are passed over."""

    cases: int
    other: int
    steps: tuple[MeasuredStep, ...]
    causes: tuple[MeasuredCause, ...]
    self_clearing: Rate
    diagnostics: Diagnostics
    left_out: CasesLeftOut
    warnings: tuple[Warned, ...]


_NONE = Rate(mean=None, low=None, high=None)


def measure(playbook: Playbook, cases: Iterable[Case], seed: int = 1) -> Measured:
    """The figures of a playbook from cases alone, as they stood on the day on which the last of them was closed.

    A case that stands twice under one id counts as it stands last. Raises BadInput for what the playbook refuses.
    """
    own, other = _own(playbook, cases)
    _, counts, _, view = _studied(playbook, own, seed)
    made = view.estimate
    by_step = {one.step: one for one in made.steps}
    return Measured(
        cases=len(own),
        other=other,
        steps=tuple(
            _step(counts.get(step.id) or no_evidence(step.id), by_step.get(step.id)) for step in playbook.steps
        ),
        causes=tuple(
            MeasuredCause(cause=one.cause, mean=one.share.mean, low=one.share.low, high=one.share.high)
            for one in made.causes
        ),
        self_clearing=made.clears,
        diagnostics=Diagnostics(rhat=made.rhat, ess=made.size),
        left_out=CasesLeftOut(better=made.better, double=made.double),
        warnings=tuple(Warned(code=one.code, says=one.says, cases=one.cases) for one in view.doubts),
    )


class ReplayedCases(Shape):
    """What a ladder would have cost a case of a log, and (`difference`) how much more than another ladder would."""

    cases: int
    effort: Span
    harm: Span
    handed_off: Span
    difference: dict[str, Span] | None
    assumes: str


def replay_cases(playbook: Playbook, cases: Iterable[Case], against: Playbook | None, seed: int = 1) -> ReplayedCases:
    """A playbook's ladder on logged cases, by what they teach of it. Raises BadInput for what the playbooks refuse, and
    for too few cases."""
    if against is not None and against.id != playbook.id:
        raise BadInput(f"'{against.id}' is a playbook of another symptom than '{playbook.id}'", path="id")
    own, _ = _own(playbook, cases)
    log, counts, made, _ = _studied(playbook, own, seed)
    found = replay(made, log.tallies, playbook, against, told_of(counts, log.harms))
    less = found.less
    more = {name: _turned(getattr(less, name)) for name in ("effort", "harm", "handed_off")} if less else None
    return ReplayedCases(
        cases=found.cases,
        effort=found.ladder.effort,
        harm=found.ladder.harm,
        handed_off=found.ladder.handed_off,
        difference=more,
        assumes=found.assumes,
    )


def _turned(one: Span) -> Span:
    return Span(mean=-one.mean, low=-one.high, high=-one.low)


def _own(playbook: Playbook, cases: Iterable[Case]) -> tuple[list[Case], int]:
    """The cases of the playbook's symptom, as they stand last, and how many others there are."""
    by_id: dict[str, Case] = {}
    other = 0
    for case in cases:
        if case.symptom == playbook.id:
            by_id[case.case] = case
        else:
            other += 1
    return list(by_id.values()), other


def _studied(
    playbook: Playbook, own: list[Case], seed: int
) -> tuple[Log, dict[str, StepEvidence], Estimated, EstimateView]:
    today = max((_day(case) for case in own), default=date(2000, 1, 1))
    log = _log(playbook, own)
    counts = count_steps(log.by_period, today, RETURN_WINDOW)
    made, view = study(playbook, log, today, RETURN_WINDOW, seed=seed)
    return log, counts, made, view


def _step(counts: StepEvidence, estimate: StepEstimate | None) -> MeasuredStep:
    return MeasuredStep(
        step=counts.step,
        tried=counts.tried,
        resolved=counts.resolved,
        held=counts.held,
        raw=counts.raw,
        first=estimate.first if estimate else _NONE,
        here=estimate.here if estimate else _NONE,
        lasting=estimate.lasting if estimate else _NONE,
        learned=estimate.learned if estimate else None,
        units=estimate.units if estimate else None,
        not_available=counts.not_available,
        could_not=counts.could_not,
        nothing_to_do=counts.nothing_to_do,
    )


def _day(case: Case) -> date:
    return case.closed.astimezone(UTC).date()


def _log(playbook: Playbook, cases: list[Case]) -> Log:
    counted = {fact.id for fact in playbook.facts if fact.type in COUNTED_TYPES}
    texts = {case.case: signature_text(case) for case in cases}
    links = _links(cases, texts)
    keyed: Counter[tuple[str, tuple[tuple[str, str], ...], bool, str, str, bool]] = Counter()
    by_period: dict[tuple[str, str], list[int]] = defaultdict(lambda: [0, 0])
    cured: Counter[tuple[str, str]] = Counter()
    back: dict[tuple[str, str], Counter[int]] = defaultdict(Counter)
    for case in cases:
        link, text, day = links[case.case], texts[case.case], _day(case).isoformat()
        facts = tuple(sorted((fact, value) for fact, value in case.facts.items() if fact in counted))
        keyed[text, facts, link.is_double, day[:7], case.site, case.playbook == playbook.id] += 1
        row = by_period[day, text]
        row[0] += 1
        row[1] += link.came_back is not None
        if case.resolved_by is not None:
            cured[case.resolved_by, day] += 1
            if link.came_back is not None:
                back[case.resolved_by, day][(link.came_back - case.closed).days] += 1
    return Log(
        harms={},
        tallies=[
            KeyedTally(read_signature(text), dict(facts), is_double, count, month, site, is_guided)
            for (text, facts, is_double, month, site, is_guided), count in keyed.items()
        ],
        by_period=[
            Tally(period=day, signature=read_signature(text), count=count, returned=returned)
            for (day, text), (count, returned) in by_period.items()
        ],
        cured=[Cured(step, day, count, back[step, day]) for (step, day), count in cured.items()],
        ladders={},
    )


def _links(cases: list[Case], texts: dict[str, str]) -> dict[str, Link]:
    """How each case stands to the others of its unit: whose fault came back, and which was logged twice."""
    by_unit = defaultdict(list)
    for case in cases:
        by_unit[case.unit or ""].append(visit_of(case, tried_part(texts[case.case])))
    window = timedelta(days=RETURN_WINDOW)
    return {visit.id: link for visits in by_unit.values() for visit, link in links_of(visits, window)}
