"""What changed between two documents, as sentences in the order of the ladder.

Every field that differs makes at least one sentence, so two documents are equal exactly when there is none.
"""

from collections.abc import Iterator, Mapping, Sequence
from typing import Any, Literal

from mildladder.core.ladder.saying import told_in_words
from mildladder.core.model import (
    Again,
    Effort,
    HandOffRef,
    Playbook,
    PlaybookRef,
    RailEntry,
    Rung,
    Shape,
    Step,
)
from mildladder.core.model.outcomes import OPENS_RAIL

__all__ = ["Difference", "differences", "field_called"]

Group = Literal["order", "conditions", "judgement", "text"]
_GROUPS: tuple[Group, ...] = ("order", "conditions", "judgement", "text")
_JUDGED = frozenset(
    {
        "kind",
        "effort",
        "fixes",
        "done",
        "proves",
        "footing",
        "hazards",
        "undo",
        "search",
        "findings",
        "reading",
        "needs",
        "includes",
        "cancels",
        "varies",
        "unbroken",
        "watch",
    }
)
_CALLED = {
    "after_fix": "preventions",
    "afterwards": "loose ends",
    "beware": "what to beware of",
    "cancels": "steps that it undoes",
    "default": "whether it takes what is left",
    "do": "instructions",
    "done": "chance that it can be carried out",
    "enter": "way in",
    "expect": "what is expected",
    "guard": "guard questions",
    "harmless": "harmless messages",
    "includes": "steps that it includes",
    "inputs": "values asked for",
    "leave": "way out",
    "leave_alone": "parts to leave alone",
    "likelier": "what makes it likelier",
    "lost": "what it takes away",
    "missing": "what to do when it is missing",
    "needs": "steps that it needs",
    "not_covered": "what is not covered",
    "proves": "when it is proved",
    "reading": "bands of the reading",
    "say": "what is read to the caller",
    "says": "what callers say",
    "see_also": "look-alikes",
    "stuck": "what a stuck wait looks like",
    "tell": "what the team is told",
    "theirs": "what the case costs the team",
    "to_hand": "what is to hand",
    "unbroken": "whether it may be interrupted",
    "undo": "how it is undone",
    "uses": "what it uses",
    "varies": "differences between units",
    "watch": "length of the watch",
    "within": "footing around it",
}


class Difference(Shape):
    """One change, in one sentence."""

    group: Group
    says: str


def field_called(key: str) -> str:
    """What a field is called in a sentence."""
    return _CALLED.get(key, key.replace("_", " "))


class _Names:
    """What steps, teams, findings and conditions of two documents are called; the newer names them where it can."""

    def __init__(self, before: Playbook, after: Playbook) -> None:
        self._before, self._after = before, after
        steps = (*before.steps, *after.steps)
        self._steps = {step.id: step.title for step in steps}
        self._findings = {(step.id, finding.id): finding.title for step in steps for finding in step.findings}
        self._teams = {team.id: team.title for team in (*before.hand_offs, *after.hand_offs)}

    def title(self, entry: RailEntry) -> str:
        """What a row of the ladder is called."""
        match entry:
            case Rung(step=step):
                return f"“{self._steps.get(step, step)}”"
            case HandOffRef(hand_off=team):
                return f"the hand-off to “{self._teams.get(team, team)}”"
            case PlaybookRef(playbook=playbook):
                return f"the way into '{playbook}'"
            case Again():
                return "the step once more"

    def opens(self, step: str, key: str) -> str:
        """What opens a rail: a finding of the step, or an outcome."""
        return f"“{self._findings.get((step, key)) or OPENS_RAIL.get(key, key)}”"

    def was(self, when: str | None) -> str | None:
        """A condition of the earlier document, in words."""
        return when and told_in_words(when, self._before)

    def now(self, when: str | None) -> str | None:
        """A condition of the later one."""
        return when and told_in_words(when, self._after)


def differences(before: Playbook, after: Playbook) -> list[Difference]:
    """Every difference: order, conditions, judgement, text; each in the order of the newer ladder."""
    names = _Names(before, after)
    found = [
        *_line(before.ladder, after.ladder, names, ""),
        *_steps(before, after),
        *_document(before, after),
    ]
    unique = list(dict.fromkeys(found))
    return sorted(unique, key=lambda one: _GROUPS.index(one.group))


def _order(says: str) -> Difference:
    return Difference(group="order", says=says)


# The ladder


def _line(before: Sequence[RailEntry], after: Sequence[RailEntry], names: _Names, inside: str) -> Iterator[Difference]:
    """The rungs of a line or of a rail; `inside`: the rail, in words that follow the sentence."""
    old, new = _named(before), _named(after)
    places = {name: number for number, name in enumerate(old, start=1)}
    moved = _moved([name for name in old if name in new], [name for name in new if name in old])
    for number, (name, entry) in enumerate(new.items(), start=1):
        title = names.title(entry)
        if name not in old:
            yield _order(f"{title} is new at {number}{inside}")
            yield from _new_rung(entry, title, names)
            continue
        if name in moved:
            yield _order(f"{title} moved from {places[name]} to {number}{inside}")
        if isinstance(entry, Rung):
            other = old[name]
            assert isinstance(other, Rung)
            yield from _rung(other, entry, title, names, inside)
    for name, entry in old.items():
        if name not in new:
            yield _order(f"{names.title(entry)} is gone; it stood at {places[name]}{inside}")


def _new_rung(entry: RailEntry, title: str, names: _Names) -> Iterator[Difference]:
    if isinstance(entry, Rung) and entry.when:
        yield Difference(group="conditions", says=f"{title} only where {names.now(entry.when)}")


def _named(entries: Sequence[RailEntry]) -> dict[str, RailEntry]:
    """Entries by a name that they keep where they move: the step, and which of its rungs it is."""
    made: dict[str, RailEntry] = {}
    counts: dict[str, int] = {}
    for entry in entries:
        name = _name(entry)
        counts[name] = counts.get(name, 0) + 1
        made[f"{name}#{counts[name]}"] = entry
    return made


def _name(entry: RailEntry) -> str:
    match entry:
        case Rung(step=step):
            return step
        case HandOffRef(hand_off=team):
            return f"hand_off {team}"
        case PlaybookRef(playbook=playbook, from_=step):
            return f"playbook {playbook}" + (f" from {step}" if step else "")
        case Again():
            return "again"


def _moved(old: list[str], new: list[str]) -> set[str]:
    """The fewest names whose moves turn one order into the other: all but a longest common run."""
    places = {name: place for place, name in enumerate(old)}
    sequence = [places[name] for name in new]
    best: list[list[int]] = []
    for place, value in enumerate(sequence):
        before = _longest([best[n] for n in range(place) if sequence[n] < value])
        best.append([*before, value])
    stays = set(_longest(best))
    return {name for name in old if places[name] not in stays}


def _longest(runs: list[list[int]]) -> list[int]:
    return max(runs, key=len) if runs else []


def _rung(before: Rung, after: Rung, title: str, names: _Names, inside: str) -> Iterator[Difference]:
    if before.when != after.when:
        yield Difference(
            group="conditions", says=_condition(title, names.was(before.when), names.now(after.when), inside)
        )
    if before.note != after.note:
        yield Difference(
            group="text", says=f"{title}{inside}: the note on why it stands there {_how(before.note, after.note)}"
        )
    for name, words in (("trial", "tested together, trial"), ("keep", "kept together, group"), ("pin", "pinned")):
        was, now = getattr(before, name), getattr(after, name)
        if was != now:
            yield _order(f"{title}{inside}: {f'{words} {now}' if now else f'no longer {words} {was}'}")
    if before.optional != after.optional:
        yield _order(f"{title}{inside} {'may now be left out' if after.optional else 'may no longer be left out'}")
    for key in dict.fromkeys((*before.on, *after.on)):
        opened = names.opens(after.step, key)
        place = f", on the rail of {title} after {opened}{inside}"
        old, new = before.on.get(key), after.on.get(key)
        if old is None or new is None:
            yield _order(f"{title}{inside} {'has' if old is None else 'no longer has'} a side rail after {opened}")
        yield from _line(old or (), new or (), names, place)


def _condition(title: str, before: str | None, after: str | None, inside: str) -> str:
    if after == before:
        return f"{title}{inside}: the condition is written in another way, and says the same"
    if after is None:
        return f"{title}{inside} no longer only where {before}"
    return f"{title}{inside} now only where {after}" + (f", before where {before}" if before else "")


# Steps


def _steps(before: Playbook, after: Playbook) -> Iterator[Difference]:
    old, new = {step.id: step for step in before.steps}, {step.id: step for step in after.steps}
    causes = {cause.id: cause.title for cause in (*before.causes, *after.causes)}
    for name in _in_ladder_order(after, new):
        if name not in old:
            yield Difference(group="text", says=f"“{new[name].title}” is a new step")
        elif old[name] != new[name]:
            yield from _step(old[name], new[name], causes)
    for name, step in old.items():
        if name not in new:
            yield Difference(group="text", says=f"“{step.title}” is no longer among the steps")
    if _is_other_order(list(old), list(new)):
        yield Difference(group="text", says="the steps are listed in another order")


def _is_other_order(old: list[str], new: list[str]) -> bool:
    return [name for name in old if name in new] != [name for name in new if name in old]


def _in_ladder_order(playbook: Playbook, steps: Mapping[str, Step]) -> list[str]:
    standing = [rung.step for rung in playbook.ladder if rung.step in steps]
    return list(dict.fromkeys([*standing, *steps]))


def _step(before: Step, after: Step, causes: Mapping[str, str]) -> Iterator[Difference]:
    title = f"“{after.title}”"
    if before.title != after.title:
        yield Difference(group="text", says=f"“{before.title}” is now called {title}")
    if before.effort != after.effort:
        yield Difference(
            group="judgement", says=f"effort of {title} from {_effort(before.effort)} to {_effort(after.effort)}"
        )
    yield from _chances(before.fixes, after.fixes, causes, title)
    said = {"id", "title", "effort", "fixes"}
    for name in type(after).model_fields:
        was, now = getattr(before, name), getattr(after, name)
        if name not in said and was != now:
            group: Group = "judgement" if name in _JUDGED else "text"
            yield Difference(group=group, says=f"{title}: {_changed(name, was, now)}")


def _chances(
    before: Mapping[str, Any], after: Mapping[str, Any], causes: Mapping[str, str], title: str
) -> Iterator[Difference]:
    for cause in dict.fromkeys((*after, *before)):
        was, now = before.get(cause), after.get(cause)
        if was == now:
            continue
        name = f"“{causes.get(cause, cause)}”"
        if was is None:
            says = f"{title} now ends {name} {_plain(now)}"
        elif now is None:
            says = f"{title} no longer ends {name}"
        else:
            says = f"chance that {title} ends {name} from {_plain(was)} to {_plain(now)}"
        yield Difference(group="judgement", says=says)


def _effort(effort: Effort) -> str:
    parts = [f"{effort.by} {effort.hands_on:g} min"]
    parts += [f"{value:g} {name}" for name in ("wait", "travel", "parts") if (value := getattr(effort, name))]
    return " + ".join(parts)


# The document


def _document(before: Playbook, after: Playbook) -> Iterator[Difference]:
    if before.id != after.id:
        yield Difference(group="text", says=f"its id is '{after.id}' instead of '{before.id}'")
    if before.title != after.title:
        yield Difference(group="text", says=f"it is now called “{after.title}” instead of “{before.title}”")
    for name in type(after.symptom).model_fields:
        was, now = getattr(before.symptom, name), getattr(after.symptom, name)
        if was != now:
            yield Difference(group="text", says=f"the symptom's {_changed(name, was, now)}")
    yield from _listed(before.facts, after.facts, "fact", {"choices", "shares"})
    yield from _listed(before.causes, after.causes, "cause", {"weight", "likelier"})
    yield from _listed(before.footings, after.footings, "footing", {"enter", "leave", "within"})
    yield from _listed(before.hand_offs, after.hand_offs, "hand-off", {"effort", "theirs", "default"})
    for name, words in (("restart", "what a restart takes"), ("retest", "the test of the original action")):
        was, now = getattr(before, name), getattr(after, name)
        if was != now:
            yield Difference(group="judgement", says=f"{words} {_how(was, now)}")
    if before.after_fix != after.after_fix:
        yield Difference(group="text", says=f"the {_changed('after_fix', before.after_fix, after.after_fix)}")
    yield from _policy(before, after)


def _policy(before: Playbook, after: Playbook) -> Iterator[Difference]:
    was, now = before.policy, after.policy
    if was.rate != now.rate:
        says = f"one harm point is worth {now.rate:g} effort minutes, before {was.rate:g}"
        yield Difference(group="judgement", says=says)
    if was.mode != now.mode:
        yield Difference(group="order", says=f"the order's mode is {now.mode}, before {was.mode}")
    for name in type(now.weights).model_fields:
        old, new = getattr(was.weights, name), getattr(now.weights, name)
        if old != new:
            yield Difference(group="judgement", says=f"the weight of {name} from {old:g} to {new:g}")


def _listed(before: Sequence[Any], after: Sequence[Any], what: str, judged: set[str]) -> Iterator[Difference]:
    """Things with an id: new ones, those that are gone, and each key that differs; judged: keys of judgement."""
    old, new = {one.id: one for one in before}, {one.id: one for one in after}
    for name, one in new.items():
        called = f"the {what} “{_called(one)}”"
        if name not in old:
            yield Difference(group="judgement", says=f"{called} is new")
            continue
        for key in type(one).model_fields:
            was, now = getattr(old[name], key), getattr(one, key)
            if was != now:
                group: Group = "judgement" if key in judged else "text"
                yield Difference(group=group, says=f"{called}: {_changed(key, was, now)}")
    for name, one in old.items():
        if name not in new:
            yield Difference(group="judgement", says=f"the {what} “{_called(one)}” is gone")
    if _is_other_order(list(old), list(new)):
        yield Difference(group="text", says=f"the {what}s are listed in another order")


def _called(one: Any) -> str:
    """The title of whatever has one, else the question by which it is known."""
    return str(getattr(one, "title", None) or one.ask)


def _changed(key: str, was: Any, now: Any) -> str:
    name = field_called(key)
    if _is_plain(was) and _is_plain(now):
        return f"{name} from {_plain(was)} to {_plain(now)}"
    if isinstance(was, Effort) and isinstance(now, Effort) and type(was) is Effort:
        return f"{name} from {_effort(was)} to {_effort(now)}"
    return f"{name} {_how(was, now)}"


def _is_plain(value: Any) -> bool:
    return isinstance(value, int | float) or (isinstance(value, str) and 0 < len(value) <= 60)


def _plain(value: Any) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    return f"{value:g}" if isinstance(value, int | float) else str(value)


def _how(was: Any, now: Any) -> str:
    if was in (None, (), {}):
        return "added"
    return "taken away" if now in (None, (), {}) else "changed"
