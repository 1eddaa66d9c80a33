"""What the log shows of each step of one symptom."""

from collections import defaultdict
from datetime import date
from functools import partial
from typing import get_args

from sqlalchemy.orm import Session

from mildladder.core.evidence.counts import HarmCount
from mildladder.core.evidence.learned import LearnedMinutes, minutes_of_step
from mildladder.core.evidence.rates import (
    Rate,
    StepEvidence,
    count_steps,
    is_more_than,
    no_evidence,
    raw_rate,
    tried_and_resolved,
)
from mildladder.core.ladder.walk import rows_of
from mildladder.core.model import (
    HazardKind,
    Playbook,
    Rung,
    Shape,
    Step,
    StepKind,
)
from mildladder.core.tally.signature import Tally
from mildladder.desk.documents import revision_of
from mildladder.desk.evidence.harms import harms_of
from mildladder.desk.evidence.odd_names import SaidName, names_of_their_own, said_names
from mildladder.desk.library.recounting import Recounting, recountings
from mildladder.desk.log.origins import brought_in, kept_out
from mildladder.desk.settings import return_window
from mildladder.store.cache import Needs, cached
from mildladder.store.documents import document_of
from mildladder.store.drafts import revision
from mildladder.store.log import reading as store
from mildladder.store.notices import calls_about

__all__ = ["Evidence", "EvidenceFilter", "evidence"]


class HarmSeen(Shape):
    """Harm of one kind that came of a step, beside what the draft judges.

    `judged`: the chance that the step names, nothing eased, None where it names no such hazard; `eased_by`: the
    safeguard that it names; `guarded`: the share of its tries before which that had been carried out; `expected`: the
    share of tries with harm that comes of both. `asked`: attempts after which harm was asked about; `rate`: seen out of
    asked. `is_more`: more than luck explains, were the chance as judged.
    """

    kind: HazardKind
    judged: float | None
    eased_by: str | None
    guarded: float | None
    expected: float | None
    asked: int
    seen: int
    rate: Rate
    is_more: bool


class CopyUse(Shape):
    """How often a safeguard's copy was needed, and of those times, of which that is known, how much was put right."""

    needed: int
    whole: int
    partly: int
    no: int


class MonthCount(Shape):
    """What came of a step in the cases that closed in a month, as 2026-03."""

    month: str
    tried: int
    resolved: int


class EvidenceRow(Shape):
    """One step's counts, with its places on the draft's ladder, such as 3 or `2a, 7` (None: not on it), and its title;
    one that is unknown here has no kind, and no title unless a lead has said that it is a step of its own. copy_use: of
    a safeguard whose copy was needed. minutes: logged beside judged, None where too few were logged; months: the last
    two years."""

    step: str
    title: str | None
    kind: StepKind | None
    label: str | None
    counts: StepEvidence
    harms: tuple[HarmSeen, ...]
    copy_use: CopyUse | None
    minutes: LearnedMinutes | None
    months: tuple[MonthCount, ...]


class FactValues(Shape):
    """A fact by which cases can be told apart, as it is asked, and the values that cases have."""

    fact: str
    ask: str
    values: tuple[str, ...]


class Filters(Shape):
    """By what the cases of a symptom can be told apart: months of closing, editions, sites, facts."""

    months: tuple[str, ...]
    editions: tuple[int, ...]
    sites: tuple[str, ...]
    facts: tuple[FactValues, ...]


class Evidence(Shape):
    """The evidence of one symptom, in the order of its ladder, then what is tried off it. cases: those that the filter
    leaves, of `of` in all; calls: callers that were logged to what was known then, who are in no figure; brought_in: of
    all cases, those that were; kept_out: as many of them as say nothing of what is estimated, as a lead wants it, None:
    they do; names: that count as steps, as leads said; recounting: cases are being counted anew, so that figures are
    partly of before a change; None: they are not."""

    playbook: str
    title: str
    cases: int
    of: int
    calls: int
    brought_in: int
    kept_out: int | None
    return_window: int
    filters: Filters
    rows: tuple[EvidenceRow, ...]
    names: tuple[SaidName, ...]
    recounting: Recounting | None


class EvidenceFilter(Shape):
    """Which cases are looked at; what is left out does not matter. since, until: months of closing, both included."""

    since: str | None = None
    until: str | None = None
    edition: int | None = None
    site: str | None = None
    is_guided: bool | None = None
    facts: dict[str, str] = {}

    def of_store(self) -> store.Filter:
        """The same as the store knows it."""
        return store.Filter(
            since=self.since,
            until=self.until,
            edition=self.edition,
            site=self.site,
            is_guided=self.is_guided,
            facts=tuple(sorted(self.facts.items())),
        )


_MONTHS = 24


def evidence(session: Session, playbook_id: str, today: date, case_filter: EvidenceFilter | None = None) -> Evidence:
    """The evidence of one symptom. Raises NotFound."""
    part = (case_filter or EvidenceFilter()).of_store()
    number = revision_of(session, playbook_id)
    needs = Needs(
        draft=(playbook_id, number),
        tallies=playbook_id,
        library=True,
        names=True,
        settings=True,
        day=today,
        asked=part,
    )
    made = cached(session, "evidence", needs, partial(_evidence, session, playbook_id, number, today, part))
    calls, recounting = calls_about(session, playbook_id), recountings(session).get(playbook_id)
    return made.model_copy(update={"calls": calls, "recounting": recounting})


def _evidence(session: Session, playbook_id: str, number: int, today: date, part: store.Filter) -> Evidence:
    """The same without what changes while the log stays as it is."""
    playbook = document_of(revision(session, playbook_id, number)).playbook
    window = return_window(session)
    # What the log shows stays the same while the draft is worked on.
    counts, months = store.of_version(
        session,
        playbook_id,
        ("steps", today, window, part),
        lambda: _counted(session, playbook_id, part, today, window),
    )
    labels: dict[str, list[str]] = {}
    for row in rows_of(playbook):
        if isinstance(row.entry, Rung):
            labels.setdefault(row.entry.step, []).append(row.label)
    steps = {step.id: step for step in playbook.steps}
    own = names_of_their_own(session, steps)
    order = [*labels, *sorted(set(counts) - set(labels))]
    harms = harms_of(session, playbook, part)
    copies = store.copies_used(session, playbook.id, part)
    minutes = store.of_version(
        session, playbook_id, ("minutes of steps", part), lambda: store.step_minutes(session, playbook_id, part)
    )
    rows = tuple(
        EvidenceRow(
            step=step,
            title=steps[step].title if step in steps else own.get(step),
            kind=steps[step].kind if step in steps else None,
            label=", ".join(labels[step]) if step in labels else None,
            counts=counts.get(step) or no_evidence(step),
            harms=_harms(steps.get(step), harms.get(step)),
            copy_use=_copy_use(copies.get(step)),
            minutes=minutes_of_step(steps[step], minutes.get(step, {}), playbook.retest) if step in steps else None,
            months=months.get(step, ()),
        )
        for step in order
    )
    total = sum(store.ends(session, playbook_id).values())
    return Evidence(
        playbook=playbook_id,
        title=playbook.title,
        cases=total if part.is_all else store.filtered_cases(session, playbook_id, part),
        of=total,
        calls=0,
        brought_in=store.of_version(session, playbook_id, ("brought in",), lambda: brought_in(session, playbook_id)),
        kept_out=kept_out(session, playbook_id),
        return_window=window,
        filters=_filters(session, playbook),
        rows=rows,
        names=said_names(session, playbook, counts.keys()),
        recounting=None,
    )


def _counted(
    session: Session, playbook_id: str, part: store.Filter, today: date, window: int
) -> tuple[dict[str, StepEvidence], dict[str, tuple[MonthCount, ...]]]:
    """The counts of each step, and what came of it by month, no month left out in between."""
    tallies = list(store.tallies(session, playbook_id, part))
    by_month: dict[str, list[Tally]] = defaultdict(list)
    for tally in tallies:
        by_month[tally.period[:7]].append(tally)
    trend: dict[str, list[MonthCount]] = defaultdict(list)
    for month in sorted(by_month)[-_MONTHS:]:
        for step, (tried, resolved) in tried_and_resolved(by_month[month]).items():
            trend[step].append(MonthCount(month=month, tried=tried, resolved=resolved))
    return count_steps(tallies, today, window), {step: tuple(found) for step, found in trend.items()}


def _filters(session: Session, playbook: Playbook) -> Filters:
    months, editions, sites, values = store.of_version(
        session, playbook.id, ("filters",), lambda: store.strata_values(session, playbook.id)
    )
    asked = {fact.id: fact.ask for fact in playbook.facts}
    return Filters(
        months=tuple(months),
        editions=tuple(editions),
        sites=tuple(sites),
        facts=tuple(
            FactValues(fact=fact, ask=asked[fact], values=tuple(found))
            for fact, found in values.items()
            if fact in asked and fact != "site"
        ),
    )


def _copy_use(used: store.CopiesUsed | None) -> CopyUse | None:
    if used is None:
        return None
    how = used.put_right
    return CopyUse(needed=used.needed, whole=how.get("whole", 0), partly=how.get("partly", 0), no=how.get("no", 0))


def _harms(step: Step | None, count: HarmCount | None) -> tuple[HarmSeen, ...]:
    """One for each kind of harm that the step names or that was seen, once anybody was asked."""
    if count is None:
        return ()
    hazards = {hazard.kind: hazard for hazard in step.hazards} if step else {}
    kinds = [*hazards, *(kind for kind in get_args(HazardKind) if kind in count.seen and kind not in hazards)]
    return tuple(
        HarmSeen(
            kind=kind,
            judged=hazards[kind].chance if kind in hazards else None,
            eased_by=hazards[kind].eased_by if kind in hazards else None,
            guarded=count.guarded.get(hazards[kind].eased_by or "", 0.0) if kind in hazards else None,
            expected=expected,
            asked=count.asked,
            seen=count.seen.get(kind, 0),
            rate=raw_rate(count.seen.get(kind, 0), count.asked),
            is_more=is_more_than(expected or 0.0, count.seen.get(kind, 0), count.asked),
        )
        for kind in kinds
        for expected in [hazards[kind].chance * count.ease(hazards[kind]) if kind in hazards else None]
    )
