"""What a careful colleague would ask about: a draft with these can be published, but hardly meant."""

import re
from collections.abc import Iterator, Sequence
from functools import partial
from itertools import product

from mildladder.core.figures.forecast import forecast
from mildladder.core.ladder.causes import chance, cure_chances, finding_chances
from mildladder.core.ladder.conditions import (
    EarlierCases,
    EarlierResolved,
    World,
    endings_of,
    evaluate,
    facts_of,
    findings_of,
    parse,
    walk,
)
from mildladder.core.ladder.footings import chain, footings_of
from mildladder.core.ladder.links import look_alikes, rail_ends
from mildladder.core.ladder.messages import NAME, names_in
from mildladder.core.ladder.shared import in_plain_words, taken_away
from mildladder.core.ladder.shown import shown_elsewhere, shown_in_step, shown_in_variants
from mildladder.core.ladder.units import fact_types, mean_priors
from mildladder.core.model import Cause, Chance, HandOffRef, Instruction, Playbook, PlaybookRef, Step
from mildladder.core.ordering.best import objective
from mildladder.core.review.doubts import doubts
from mildladder.core.review.finding import Found, Place, Subject

__all__ = ["warnings"]

_BRACE = re.compile(r"\{[^{}]*\}")
_ROUGH, _SEVERE, _MILD = 3, 4, 1
_MOST_TRIED = 3
_MOST_UNITS = 512
# A rung that fewer cases come to is come to by none; a finding that more of a cause's cases have is its own.
_NOBODY, _MOSTLY = 1e-12, 0.5


def warnings(subject: Subject) -> Iterator[Found]:
    """Every warning, from top to bottom of the ladder, then those of steps and causes."""
    yield from _rough_above_mild(subject)
    yield from _safeguard_may_fail(subject)
    yield from _conditions(subject)
    yield from _footing_twice(subject)
    yield from _visit_above_desk(subject)
    yield from _idle_checks(subject)
    yield from _rails_without_chance(subject)
    yield from _idle_watches(subject)
    yield from _no_order(subject)
    for step, rung in subject.used():
        yield from _of_step(subject, step, rung)
    yield from _braces(subject)
    yield from _causes(subject)
    yield from _links(subject)


def _braces(subject: Subject) -> Iterator[Found]:
    """Braces that agents would read as they are, since nothing has that name. Commands may hold braces of their own."""
    told: set[str] = set()
    texts = [
        (subject.where(step, f".{path}"), text, rung)
        for step, rung in subject.used()
        for path, text in (*shown_in_step(step), *shown_in_variants(step))
    ]
    texts += [
        (path, text, path.removesuffix(".note") if path.startswith("ladder.") else None)
        for path, text in shown_elsewhere(subject.playbook)
    ]
    for where, text, rung in texts:
        if where.endswith(".copy"):
            continue
        for brace in _BRACE.findall(text):
            if NAME.fullmatch(brace) or brace in told:
                continue
            told.add(brace)
            says = f"agents read {brace} as it is written: no fact and no value is called that"
            yield Found("warning", "brace-as-written", where, says, rung)


def _rough_above_mild(subject: Subject) -> Iterator[Found]:
    tested = [place for place in subject.main if place.step.is_tested]
    for number, place in enumerate(tested):
        if subject.bare_grade(place.step) < _ROUGH or place.rung.note or place.rung.pin:
            continue
        milder = [one for one in tested[number + 1 :] if subject.bare_grade(one.step) <= _MILD and not one.rung.pin]
        if not milder:
            continue
        lowest = milder[-1]
        says = f"“{place.step.title}” is rough and stands above the mild “{lowest.step.title}”; say why in its note"
        moved = subject.moved(place.index, lowest.index)
        mend = f"Move it below “{lowest.step.title}”" if moved else None
        yield Found("warning", "rough-above-mild", place.row.path, says, place.row.path, mend, _given(moved))


def _safeguard_may_fail(subject: Subject) -> Iterator[Found]:
    """A safeguard that cannot always be done, above what is rough without it, and nothing that says what then."""
    for number, place in enumerate(subject.places):
        step, rung = place.step, place.rung
        if step.kind != "safeguard" or step.done == 1 or "could-not" in rung.on or rung.note:
            continue
        eased = (
            below.step
            for below in subject.places[number + 1 :]
            if subject.bare_grade(below.step) >= _ROUGH and any(h.eased_by == step.id for h in below.step.hazards)
        )
        rough = next(eased, None)
        if rough is not None:
            says = (
                f"“{step.title}” cannot always be done, and “{rough.title}” is rough without it; hang on its could-not"
                " rail what is done then, or say so in its note"
            )
            yield Found("warning", "safeguard-may-fail", place.row.path, says, place.row.path)


def _given(playbook: Playbook | None) -> partial[Playbook] | None:
    return partial(lambda made: made, playbook) if playbook else None


def _conditions(subject: Subject) -> Iterator[Found]:
    """Rungs that no unit can reach, or that count twice."""
    never: set[str] = set()
    for doubt in doubts(subject.playbook):
        if doubt.code == "never-reached":
            never.add(doubt.path)
        if doubt.code != "always-holds":
            place = next(one for one in subject.places if one.row.path == doubt.path)
            says = f"“{place.step.title}”: {doubt.says}"
            is_plain = doubt.code == "never-reached" and place.row.depth == 0 and not place.rung.trial
            mend = "Take it out" if is_plain and not _is_wanted(subject, place.index) else None
            mended = partial(subject.without, place.index) if mend else None
            yield Found("warning", doubt.code, doubt.path, says, doubt.path, mend, mended)
    rows = {rung.path: rung for rung in (*subject.forecast.rungs, *subject.forecast.side)}
    for place in subject.places:
        row = rows[place.row.path]
        looks_back = place.rung.when and any(
            isinstance(part, EarlierResolved | EarlierCases) for part in walk(parse(place.rung.when))
        )
        if row.arriving > 0 and row.reach == 0 and place.row.path not in never and not looks_back:
            says = f"“{place.step.title}” never comes up: its condition keeps every unit out, or it was done before"
            yield Found("warning", "never-reached", place.row.path, says, place.row.path)


def _is_wanted(subject: Subject, index: int) -> bool:
    return any(
        rule.kind in ("safeguard", "needed", "finding")
        and any(index in subject.ladder.blocks[block].rungs for block in rule.above)
        for rule in subject.ladder.rules
    )


def _footing_twice(subject: Subject) -> Iterator[Found]:
    """A footing that is entered again below, where the two rungs could stand together at no greater cost."""
    tried = 0
    for first, second in _apart(subject.main):
        if subject.forecast.rungs[second.index].reach <= _NOBODY:
            continue
        moved = subject.moved(second.index, first.index + 1)
        if moved is None or tried >= _MOST_TRIED:
            continue
        tried += 1
        rate = subject.playbook.policy.rate
        if objective(forecast(moved), rate) >= objective(subject.forecast, rate) - 1e-9:
            continue
        footing = next(one.title for one in subject.playbook.footings if one.id == first.step.footing)
        says = f"“{footing}” is entered for “{first.step.title}” and again for “{second.step.title}”; once would do"
        mend = f"Move “{second.step.title}” up to it"
        yield Found("warning", "footing-twice", second.row.path, says, second.row.path, mend, _given(moved))


def _apart(main: Sequence[Place]) -> Iterator[tuple[Place, Place]]:
    """Rungs of one footing with others between, each with the next of that footing."""
    last: dict[str, int] = {}
    for number, place in enumerate(main):
        footing = place.step.footing
        if footing is None or footing == "any":
            continue
        before = last.get(footing)
        if before is not None and any(one.step.footing not in (footing, "any") for one in main[before + 1 : number]):
            yield main[before], place
        last[footing] = number


def _visit_above_desk(subject: Subject) -> Iterator[Found]:
    """A journey above something done from the desk that ends as much."""
    prior = mean_priors(subject.playbook, subject.causes)
    tested = [place for place in subject.main if place.step.is_tested and not place.rung.pin]
    ends = [float(cure_chances(place.step, subject.causes) @ prior) for place in tested]
    for number, place in enumerate(tested):
        if place.step.effort.by != "visit" and not place.step.effort.travel:
            continue
        for other, share in zip(tested[number + 1 :], ends[number + 1 :], strict=True):
            is_near = other.step.effort.by != "visit" and not other.step.effort.travel and not other.rung.when
            is_mild = subject.bare_grade(other.step) <= subject.bare_grade(place.step)
            if is_near and is_mild and share >= ends[number] > 0 and not place.rung.note:
                says = f"“{place.step.title}” takes a visit, and “{other.step.title}” below it ends as much from here"
                moved = subject.moved(other.index, place.index)
                mend = f"Move “{other.step.title}” above it" if moved else None
                yield Found("warning", "visit-above-desk", place.row.path, says, place.row.path, mend, _given(moved))
                break


def _idle_checks(subject: Subject) -> Iterator[Found]:
    whens = [parse(place.rung.when) for place in subject.places if place.rung.when]
    tested = {test.check for when in whens for test in findings_of(when)}
    tested |= {test.step for when in whens for test in endings_of(when)}
    named = {name for step in subject.playbook.steps for shown in shown_in_step(step) for name in names_in(shown.text)}
    tested |= {step.id for step in subject.playbook.steps if step.search is not None and step.search.found in named}
    for place in subject.places:
        step = place.step
        is_idle = step.kind == "check" and step.findings and not set(place.rung.on) & {f.id for f in step.findings}
        if is_idle and step.id not in tested:
            says = f"whatever “{step.title}” finds, the same steps follow"
            is_plain = place.row.depth == 0 and not place.rung.trial and not place.rung.on
            mend = "Take it out" if is_plain and not _is_wanted(subject, place.index) else None
            mended = partial(subject.without, place.index) if mend else None
            yield Found("warning", "idle-check", place.row.path, says, place.row.path, mend, mended)


def _of_step(subject: Subject, step: Step, rung: str | None) -> Iterator[Found]:
    """What is doubtful of a step wherever it stands."""
    title, where = f"“{step.title}”", partial(subject.where, step)
    if subject.bare_grade(step) >= _SEVERE and (step.undo is None or not step.undo.how):
        yield Found(
            "warning", "severe-no-undo", where(".undo"), f"{title} is severe and does not say how it is undone", rung
        )
    if step.is_tested and not any(chance(value) for value in _all_chances(step)):
        yield Found("warning", "idle-fix", where(".fixes"), f"{title} ends no cause", rung)
    if not step.do:
        yield Found("warning", "no-instructions", where(".do"), f"{title} has no instructions", rung)
    hazards = [*step.hazards, *(h for variant in step.varies for h in variant.hazards or ())]
    is_undone = step.undo is not None and step.undo.possible != "no"
    if any(hazard.kind == "security" for hazard in hazards) and not is_undone and not step.afterwards:
        says = f"{title} lowers a protection, and neither undo nor a loose end raises it again"
        yield Found("warning", "security-left", where(".hazards"), says, rung)
    yield from _lost(subject, step, rung)
    yield from _uneven_causes(subject, step, rung)
    unit = _unit_without(subject, step)
    if unit:
        yield Found("warning", "unit-without-text", where(".do"), f"{title} says nothing at all where {unit}", rung)


def _lost(subject: Subject, step: Step, rung: str | None) -> Iterator[Found]:
    """What a step uses, and the fault or a state that it is done in takes away."""
    where = subject.where(step, ".uses")
    for name in step.uses:
        if name in subject.playbook.symptom.lost:
            says = f"“{step.title}” uses “{in_plain_words(name)}”, which the symptom takes away"
            yield Found("warning", "uses-lost", where, says, rung)
    footings = footings_of(subject.playbook)
    settled = (step.footing, *(variant.footing for variant in step.varies))
    for footing in dict.fromkeys(one for one in settled if one not in (None, "any")):
        for state, name in taken_away(step, chain(footings, footing)):
            says = f"“{step.title}” uses “{in_plain_words(name)}”, which the state “{state.title}” takes away"
            yield Found("warning", "uses-lost", where, says, rung)


def _all_chances(step: Step) -> Iterator[Chance]:
    yield from step.fixes.values()
    for variant in step.varies:
        yield from (variant.fixes or {}).values()


def _uneven_causes(subject: Subject, step: Step, rung: str | None) -> Iterator[Found]:
    """Causes that one finding lists and another does not."""
    listed = [set(finding.given) - {"*"} for finding in step.findings]
    everywhere = [cause.id for cause in subject.causes if all(cause.id in causes for causes in listed)]
    uneven = sorted({cause for causes in listed for cause in causes} - set(everywhere))
    if not uneven:
        return
    titles = {cause.id: cause.title for cause in subject.causes}
    names = ", ".join(f"“{titles.get(cause, cause)}”" for cause in uneven)
    says = f"not every finding of “{step.title}” says how often it comes with {names}"
    yield Found(
        "warning",
        "uneven-causes",
        subject.where(step, ".findings"),
        says,
        rung,
        "Write down what counts for the others now",
        partial(_with_even_causes, subject.playbook, step, uneven),
    )


def _with_even_causes(playbook: Playbook, step: Step, causes: list[str]) -> Playbook:
    findings = tuple(
        finding.model_copy(
            update={"given": {**{cause: finding.given.get("*", 0.0) for cause in causes}, **finding.given}}
        )
        for finding in step.findings
    )
    changed = step.model_copy(update={"findings": findings})
    return playbook.model_copy(update={"steps": tuple(changed if s.id == step.id else s for s in playbook.steps)})


def _unit_without(subject: Subject, step: Step) -> str | None:
    """A sort of unit for which none of a step's instructions is meant, in words."""
    texts: tuple[Instruction, ...] = step.do
    if not texts or any(one.when is None for one in texts):
        return None
    conditions = [parse(one.when) for one in texts if one.when]
    asked = dict.fromkeys(fact for condition in conditions for fact in facts_of(condition))
    facts = [fact for fact in subject.playbook.facts if fact.id in asked and fact.spread]
    types = fact_types(subject.playbook)
    for number, values in enumerate(product(*(fact.spread for fact in facts))):
        if number >= _MOST_UNITS:
            return None
        world = World(facts=dict(zip((fact.id for fact in facts), values, strict=True)), types=types)
        if all(evaluate(condition, world) is False for condition in conditions):
            return " and ".join(f"{fact.id} is {value}" for fact, value in zip(facts, values, strict=True))
    return None


def _causes(subject: Subject) -> Iterator[Found]:
    ended = {
        cause
        for place in subject.places
        if place.step.is_tested
        for fixes in (place.step.fixes, *(variant.fixes or {} for variant in place.step.varies))
        for cause, value in fixes.items()
        if chance(value)
    }
    for number, cause in enumerate(subject.playbook.causes):
        if cause.id not in ended and cause.id != "something-else" and not _is_handed_off(subject, cause):
            says = f"no step of the ladder ends “{cause.title}”"
            yield Found("warning", "unended-cause", f"causes.{number}", says)


def _is_handed_off(subject: Subject, cause: Cause) -> bool:
    """Whether what a check mostly finds for a cause hands it to a team of its own."""
    column = next(number for number, one in enumerate(subject.causes) if one.id == cause.id)
    for place in subject.places:
        for number, finding in enumerate(place.step.findings):
            rail = place.rung.on.get(finding.id, ())
            leaves = bool(rail) and isinstance(rail[-1], HandOffRef | PlaybookRef)
            if leaves and finding_chances(place.step, subject.causes)[number, column] > _MOSTLY:
                return True
    return False


def _idle_watches(subject: Subject) -> Iterator[Found]:
    """A watch on what is neither tested nor read: nobody waits for it."""
    for step, rung in subject.used():
        if step.watch is not None and not step.is_tested and step.kind != "check":
            says = f"“{step.title}” is a {step.kind}: nothing is read or tried after it, so its watch is never kept"
            yield Found("warning", "idle-watch", subject.where(step, ".watch"), says, rung)


def _no_order(subject: Subject) -> Iterator[Found]:
    """Rules that no order keeps together in the playbook's own mode."""
    says = subject.ladder.why_no_order()
    if says:
        yield Found("warning", "no-order", "ladder", says)


def _rails_without_chance(subject: Subject) -> Iterator[Found]:
    """A could-not rail on a step that says it can always be carried out: no figure counts what stands there."""
    for place in subject.places:
        chances = [place.step.done, *(v.done for v in place.step.varies if v.done is not None)]
        if "could-not" in place.rung.on and min(chances) == 1:
            says = (
                f"“{place.step.title}” says that it can always be carried out, so its could-not rail counts for nothing"
            )
            yield Found("warning", "rail-without-chance", f"{place.row.path}.on.could-not", says, place.row.path)


def _links(subject: Subject) -> Iterator[Found]:
    """Ways into playbooks that are absent, or that lead back here."""
    if subject.known is None:
        return
    links = [(where, None, name) for where, name in look_alikes(subject.playbook)]
    rails = [(where, where, name) for where, name in rail_ends(subject.playbook)]
    for where, rung, name in [*links, *rails]:
        if name not in subject.known and name != subject.playbook.id:
            yield Found("warning", "link-absent", where, f"there is no playbook '{name}' on this desk", rung)
    for where, rung, name in rails:
        if _leads_back(name, subject.playbook.id, subject.known):
            yield Found(
                "warning", "link-ring", where, f"'{name}' leads on to this playbook again: a case could go round", rung
            )


def _leads_back(start: str, goal: str, known: object) -> bool:
    waiting, seen = [start], set()
    while waiting:
        name = waiting.pop()
        if name == goal:
            return True
        if name not in seen:
            seen.add(name)
            waiting.extend(known.get(name, ()))  # type: ignore[attr-defined]
    return False
