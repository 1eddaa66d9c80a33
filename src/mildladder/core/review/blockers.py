"""What stops a draft from being published: agents could come to harm, or to nothing, by following it."""

from collections.abc import Iterator
from functools import partial

from mildladder.core.climb.wording import captured_names
from mildladder.core.ladder.conditions import endings_of, findings_of, parse
from mildladder.core.ladder.days import DAY_NAMES
from mildladder.core.ladder.messages import names_in
from mildladder.core.ladder.moves import reordered
from mildladder.core.ladder.shown import shown_elsewhere, shown_in_step, shown_in_variants
from mildladder.core.ladder.soundness import faults
from mildladder.core.model import FactType, Playbook, Rung
from mildladder.core.review.finding import Found, Place, Subject

__all__ = ["blockers"]

_SEVERE = 4
_WORDS = {
    "safeguard": ("safeguard", "protects it", "which it protects"),
    "needs": ("needs", "it needs", "which needs it"),
    "finding": ("finding", "its condition asks for what it finds", "which hangs on what it finds"),
    "ended": ("ended", "its condition asks for how it ended", "which hangs on how it ended"),
}


def blockers(subject: Subject) -> Iterator[Found]:
    """Every blocker, from top to bottom of the ladder, then those of the document."""
    yield from _unsound(subject)
    for place in subject.places:
        yield from _wanted(subject, place)
        yield from _severe(subject, place)
        yield from _unreachable(subject, place)
    yield from _split_trials(subject)
    yield from _unfilled(subject)
    yield from _clashing_inputs(subject)
    yield from _no_end(subject)


def _unsound(subject: Subject) -> Iterator[Found]:
    for fault in faults(subject.playbook):
        path = fault.path if fault.path.startswith("ladder.") else None
        yield Found("blocker", "unsound", fault.path, fault.says, path)


def _wanted(subject: Subject, place: Place) -> Iterator[Found]:
    """What must stand above and does not: safeguards, needed steps, checks whose findings are tested."""
    hazards = [*place.step.hazards, *(h for variant in place.step.varies for h in variant.hazards or ())]
    wanted = [(hazard.eased_by, "safeguard") for hazard in hazards if hazard.eased_by]
    wanted += [(needed, "needs") for needed in place.step.needs]
    if place.rung.when:
        wanted += [(test.check, "finding") for test in findings_of(parse(place.rung.when))]
        wanted += [(test.step, "ended") for test in endings_of(parse(place.rung.when)) if test.step != place.step.id]
    for step, kind in dict.fromkeys(wanted):
        if step not in subject.steps:
            continue
        standing = [one for one in subject.places if one.step.id == step]
        if any(_is_above(one, place, subject) for one in standing):
            continue
        word, _, which = _WORDS[kind]
        title, mine = subject.steps[step].title, place.step.title
        if standing:
            yield Found(
                "blocker",
                f"{word}-below",
                place.row.path,
                f"“{title}” must stand above “{mine}”, {which}",
                place.row.path,
                **_raise(subject, standing, place),
            )
        else:
            yield Found(
                "blocker",
                f"{word}-absent",
                place.row.path,
                f"“{title}” is not on the ladder, and must stand above “{mine}”, {which}",
                place.row.path,
                f"Put “{title}” above it",
                partial(_with_rung_above, subject.playbook, place.index, step),
            )


def _is_above(one: Place, place: Place, subject: Subject) -> bool:
    if one.index != place.index:
        return one.index < place.index
    return subject.places.index(one) < subject.places.index(place)


def _raise(subject: Subject, standing: list[Place], place: Place) -> dict:  # type: ignore[type-arg]
    """The mend that moves a rung right above the one that wants it, where it is free to go there."""
    holder = next((one for one in standing if one.row.depth == 0 and one.index != place.index), None)
    if holder is None:
        return {}
    order = list(range(len(subject.playbook.ladder)))
    order.insert(place.index, order.pop(holder.index))
    blocks = subject.ladder.blocks
    if any(len(block.rungs) > 1 and {holder.index, place.index} & set(block.rungs) for block in blocks):
        return {}
    now = set(subject.ladder.broken(range(len(blocks))))
    number = {rung: n for n, block in enumerate(blocks) for rung in block.rungs}
    after = list(dict.fromkeys(number[rung] for rung in order))
    if {rule for rule in subject.ladder.broken(after) if rule.kind != "mildest"} - now:
        return {}
    return {
        "mend": f"Move “{holder.step.title}” above “{place.step.title}”",
        "mended": lambda: reordered(subject.playbook, order),
    }


def _with_rung_above(playbook: Playbook, index: int, step: str) -> Playbook:
    first = index
    while (
        first > 0 and playbook.ladder[index].trial and playbook.ladder[first - 1].trial == playbook.ladder[index].trial
    ):
        first -= 1
    ladder = (*playbook.ladder[:first], Rung(step=step), *playbook.ladder[first:])
    return playbook.model_copy(update={"ladder": ladder})


def _severe(subject: Subject, place: Place) -> Iterator[Found]:
    if subject.bare_grade(place.step) < _SEVERE or place.rung.note:
        return
    hazards = [*place.step.hazards, *(h for variant in place.step.varies for h in variant.hazards or ())]
    if not any(hazard.eased_by for hazard in hazards):
        says = (
            f"“{place.step.title}” is severe and no safeguard eases it; name one, or say in its note why there is none"
        )
        yield Found("blocker", "severe-unguarded", place.row.path, says, place.row.path)


def _unreachable(subject: Subject, place: Place) -> Iterator[Found]:
    """Rails and conditions that hang on a finding that no cause ever gives."""
    for finding in place.step.findings:
        chances = [finding.given.get(cause.id, finding.given.get("*", 0.0)) for cause in subject.causes]
        if any(chances):
            continue
        if finding.id in place.rung.on:
            says = f"no cause makes “{place.step.title}” find “{finding.title}”, so its side rail is never climbed"
            yield Found("blocker", "unreachable-rail", f"{place.row.path}.on.{finding.id}", says, place.row.path)
        for other in subject.places:
            tests = findings_of(parse(other.rung.when)) if other.rung.when else ()
            if any((test.check, test.finding) == (place.step.id, finding.id) for test in tests):
                says = f"no cause makes “{place.step.title}” find “{finding.title}”, which the condition asks for"
                yield Found("blocker", "unreachable-finding", f"{other.row.path}.when", says, other.row.path)


def _split_trials(subject: Subject) -> Iterator[Found]:
    """Trials of the main line whose rungs are not neighbours."""
    ladder = subject.playbook.ladder
    homes: dict[str, list[int]] = {}
    for number, rung in enumerate(ladder):
        if rung.trial:
            homes.setdefault(rung.trial, []).append(number)
    for trial, numbers in homes.items():
        if numbers == list(range(numbers[0], numbers[-1] + 1)):
            continue
        rest = [n for n in range(len(ladder)) if n not in numbers]
        at = sum(n < numbers[0] for n in rest)
        together = [*rest[:at], *numbers, *rest[at:]]
        yield Found(
            "blocker",
            "trial-split",
            f"ladder.{numbers[-1]}",
            f"the rungs of the trial '{trial}' are not neighbours, so they are not tested together",
            f"ladder.{numbers[-1]}",
            "Bring them together",
            partial(reordered, subject.playbook, together),
        )


def _unfilled(subject: Subject) -> Iterator[Found]:
    """Values in texts and commands that nothing fills in."""
    known = {fact.id for fact in subject.playbook.facts} | set(captured_names(subject.playbook))
    known |= {one.id for step in subject.playbook.steps for one in step.inputs}
    known |= {step.search.found for step in subject.playbook.steps if step.search is not None and step.search.found}
    known |= set(DAY_NAMES)
    told: set[str] = set()
    for step, rung in subject.used():
        for path, text in (*shown_in_step(step), *shown_in_variants(step)):
            for name in names_in(text):
                if name not in known | told:
                    told.add(name)
                    yield _nothing_fills(name, f" of “{step.title}”", subject.where(step, f".{path}"), rung)
    for path, text in shown_elsewhere(subject.playbook):
        for name in names_in(text):
            if name not in known | told:
                told.add(name)
                yield _nothing_fills(name, "", path, path.removesuffix(".note") if path.startswith("ladder.") else None)


def _nothing_fills(name: str, of: str, where: str, rung: str | None) -> Found:
    says = f"nothing fills in {{{name}}}{of}: make it a fact, an input, or a part of a message"
    return Found("blocker", "unfilled-value", where, says, rung)


def _clashing_inputs(subject: Subject) -> Iterator[Found]:
    """Two inputs of one id that ask for different types, or an input and a fact that do."""
    types: dict[str, tuple[FactType, str]] = {
        fact.id: (fact.type, f"the fact '{fact.id}'") for fact in subject.playbook.facts
    }
    for step in subject.playbook.steps:
        for number, one in enumerate(step.inputs):
            its = "number" if one.compute is not None else one.type
            kind, what = types.setdefault(one.id, (its, f"the input of “{step.title}”"))
            if kind != its:
                rung = next((place.row.path for place in subject.rungs_of(step)), None)
                says = (
                    f"the input '{one.id}' of “{step.title}” is a {one.type}, and {what} a {kind}; give it another id"
                )
                yield Found("blocker", "input-clash", subject.where(step, f".inputs.{number}"), says, rung)


def _no_end(subject: Subject) -> Iterator[Found]:
    playbook = subject.playbook
    if playbook.default_hand_off is not None:
        return
    if not playbook.hand_offs:
        yield Found("blocker", "no-end", "hand_offs", "what the ladder leaves goes to nobody; name a hand-off")
        return
    first = playbook.hand_offs[0]
    marked = (first.model_copy(update={"default": True}), *playbook.hand_offs[1:])
    yield Found(
        "blocker",
        "no-end",
        "hand_offs",
        "none of the hand-offs takes what the ladder leaves; mark one as the default",
        None,
        f"Hand what is left to {first.title}",
        lambda: playbook.model_copy(update={"hand_offs": marked}),
    )
