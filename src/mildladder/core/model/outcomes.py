"""The one table of outcomes and ends: what counts as tried, what as done, what ends a fault, and the words for each."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal, get_args

from mildladder.core.model.base import Baseline, Confirmed, End, HazardKind, Outcome

__all__ = [
    "BASELINES",
    "CONFIRMED",
    "CURED",
    "DO_NOT_ENTER",
    "ENDS",
    "ENDS_TESTED",
    "HARMS",
    "NOT_DONE",
    "OPENS_RAIL",
    "OUTCOMES",
    "RARE",
    "RESTORED",
    "SENT_ON",
    "TESTED",
    "UNHELPFUL",
]

# tested: what came of trying the original action again. done: carried out, and nothing came to a test. nothing: the
# step was come to and there was nothing to carry out. not-done: it could not be, or was not.
Sort = Literal["tested", "done", "nothing", "not-done"]


@dataclass(frozen=True)
class Meaning:
    """What an outcome of a step means, and its words: on the key that gives it, in a record, and beside a path.

    rail: what opens a side rail that hangs on it; None: no rail may. is_rare: shown only among the rarer answers.
    rules_out: an attempt so ended speaks against the causes that the step ends.
    """

    sort: Sort
    label: str
    said: str
    short: str
    rail: str | None = None
    is_rare: bool = False
    rules_out: bool = False


OUTCOMES: Mapping[Outcome, Meaning] = {
    "fixed": Meaning("tested", "Fixed", "fixed it", "fixed"),
    "no-change": Meaning("tested", "No change", "no change", "no", rules_out=True),
    "better": Meaning("tested", "Better, not gone", "better, not gone", "better"),
    "worse": Meaning("tested", "Worse", "made it worse", "worse", rail="Worse", rules_out=True),
    "could-not": Meaning(
        "not-done", "Could not do it", "could not be done", "could not", rail="Could not be done", is_rare=True
    ),
    "not-available": Meaning(
        "not-done",
        "Not there on this unit",
        "not there on this unit",
        "not there",
        rail="Not there on the unit",
        is_rare=True,
    ),
    "nothing-to-do": Meaning(
        "nothing", "Nothing to do", "nothing to do", "nothing to do", rail="Nothing to do", is_rare=True
    ),
    "skipped": Meaning("not-done", "Skip it", "skipped", "skipped", is_rare=True),
    "done": Meaning("done", "Done", "done", "done"),
}


def _those(*sorts: Sort) -> tuple[Outcome, ...]:
    return tuple(outcome for outcome, meaning in OUTCOMES.items() if meaning.sort in sorts)


TESTED = _those("tested")
NOT_DONE = _those("not-done")
DO_NOT_ENTER = _those("not-done", "nothing")
RARE: tuple[Outcome, ...] = tuple(outcome for outcome, meaning in OUTCOMES.items() if meaning.is_rare)
# Not an outcome: what a workaround has brought back, in the same case in which it is repaired for good.
RESTORED = "restored"
OPENS_RAIL: Mapping[str, str] = {
    **{outcome: one.rail for outcome, one in OUTCOMES.items() if one.rail is not None},
    RESTORED: "Restored",
}
# The ends of a step that a condition may ask for.
ENDS_TESTED: tuple[Outcome, ...] = tuple(outcome for outcome in OUTCOMES if outcome not in ("fixed", "better", "done"))
UNHELPFUL: tuple[Outcome, ...] = tuple(outcome for outcome, meaning in OUTCOMES.items() if meaning.rules_out)
assert set(OUTCOMES) == set(get_args(Outcome)), "every outcome has its meaning"


@dataclass(frozen=True)
class EndMeaning:
    """What the end of a case means. is_cure: the fault is gone, by a fix or around it."""

    says: str
    is_cure: bool = False


ENDS: Mapping[End, EndMeaning] = {
    "resolved": EndMeaning("Resolved", is_cure=True),
    "worked-around": EndMeaning("Worked around", is_cure=True),
    "handed-off": EndMeaning("Handed off"),
    "abandoned": EndMeaning("Abandoned"),
    "self-cleared": EndMeaning("Cleared by itself"),
}
SENT_ON = "Sent on"
CURED: tuple[End, ...] = tuple(end for end, meaning in ENDS.items() if meaning.is_cure)
assert set(ENDS) == set(get_args(End)), "every end has its meaning"

# How it is known that a case ended so.
CONFIRMED: Mapping[Confirmed, str] = {
    "caller": "the caller says it works",
    "measured": "seen to work",
    "assumed": "assumed",
    "none": "",
}

BASELINES: Mapping[Baseline, str] = {
    "fails": "the fault was there at the start of the call",
    "works": "it worked at the start of the call",
    "cannot-try": "it could not be tried at the start",
}


@dataclass(frozen=True)
class HarmWords:
    """A kind of harm as it is told before a step, and as it is seen after it. how_bad: by severity, 1 first."""

    may_come: str
    was_seen: str
    how_bad: tuple[str, str, str, str, str]


HARMS: Mapping[HazardKind, HarmWords] = {
    "data": HarmWords(
        "something stored may be lost",
        "something stored was lost",
        (
            "a little of what is stored is lost",
            "some of what is stored is lost",
            "much of what is stored is lost",
            "nearly everything stored is lost",
            "everything stored is lost",
        ),
    ),
    "service": HarmWords(
        "the service may stop for a while",
        "the service stopped",
        (
            "the service stops for a moment",
            "the service stops for a short while",
            "the service stops for a good while",
            "the service stops for most of a day",
            "the service stops for days",
        ),
    ),
    "equipment": HarmWords(
        "the equipment could be damaged",
        "something was damaged",
        (
            "the equipment gets a scratch",
            "the equipment is slightly damaged",
            "the equipment is damaged",
            "the equipment is badly damaged",
            "the equipment is ruined",
        ),
    ),
    "security": HarmWords(
        "a protection is lowered",
        "a protection was left lowered",
        (
            "a protection is lowered a little",
            "a protection is lowered",
            "an important protection is lowered",
            "the unit stands open to others nearby",
            "the unit stands open to anybody",
        ),
    ),
    "injury": HarmWords(
        "somebody could be hurt, so keep clear",
        "somebody was hurt",
        (
            "somebody gets a fright",
            "somebody is lightly hurt",
            "somebody is hurt",
            "somebody is badly hurt",
            "somebody is hurt for life, so keep clear",
        ),
    ),
}
