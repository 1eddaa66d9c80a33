"""What can happen in a guided case: each move is a shape, and an event is a move with who made it and when."""

from typing import Annotated, Literal

from pydantic import AwareDatetime, Field, model_validator

from mildladder.core.model import (
    AwaitedPart,
    Baseline,
    Confirmed,
    End,
    HazardKind,
    Id,
    Line,
    Outcome,
    Prose,
    PutRight,
    Shape,
)

__all__ = [
    "RULES",
    "TAKEN_BACK",
    "AnotherValue",
    "Answered",
    "BaselineSeen",
    "ClimbEvent",
    "Consented",
    "EarlierCase",
    "Ended",
    "FactGiven",
    "GuardAnswered",
    "KnownBefore",
    "Move",
    "Noted",
    "OffLadder",
    "PauseReason",
    "Paused",
    "Resumed",
    "Searched",
    "SignTold",
    "Started",
    "StepBegun",
    "TakenBack",
    "TakenOutOfTurn",
    "TakenOver",
    "TiedUp",
    "TriedBefore",
    "WentOn",
]

PauseReason = Literal["watch", "runs", "part", "answer", "call-back", "quiet-hour", "repair"]


RULES = 6


class EarlierCase(Shape):
    """A case that the unit had before, of the same symptom. `resolved_by`: the step that ended it, if one did."""

    case: Annotated[str, Field(max_length=64)]
    closed: AwareDatetime
    resolved_by: Annotated[str, Field(max_length=120)] | None = None


class KnownBefore(Shape):
    """What a fact of the unit was in an earlier case, of whatever symptom, and when that closed."""

    value: Annotated[str, Field(min_length=1, max_length=300)]
    closed: AwareDatetime


class Started(Shape):
    """A climb begins: what the caller said, what is known of the unit, values found before, such as on a case that led
    here, and the cases that the unit had before, the newest first; known_before: what these knew of it, to be confirmed
    where it is asked. ticket: the other system's number for it; caller,
    call_back: who is on the line, and where to reach them; reopened_from: the case whose fault came back; entered_at:
    the step at whose rung the ladder is entered, from its top where None.

    trusts_speech: begun before values that were caught from what was said had to be confirmed for commands. rules: by
    which the case is guided, so that one that was begun goes on as it began: 1 asks every value before the step and
    leaves states unasked, 2 asks inside the step and leaves each state as a step of its own, 3 asks nothing for the
    condition of a prevention, 4 passes over no try that has begun and leaves every state that was entered, 5 enters and
    leaves states in every round of a search, 6 forgets no state when the step at hand was done before the call, or
    when what was changed cannot be put back.
    """

    kind: Literal["started"] = "started"
    said: Annotated[str, Field(max_length=4000)] = ""
    unit: Annotated[str, Field(max_length=120)] = ""
    facts: dict[Id, Annotated[str, Field(min_length=1, max_length=300)]] = {}
    values: dict[Id, Annotated[str, Field(min_length=1, max_length=300)]] = {}
    ticket: Annotated[str, Field(max_length=120)] = ""
    caller: Annotated[str, Field(max_length=120)] = ""
    call_back: Annotated[str, Field(max_length=120)] = ""
    reopened_from: Annotated[str, Field(max_length=64)] = ""
    entered_at: Id | None = None
    history: Annotated[tuple[EarlierCase, ...], Field(max_length=1000)] = ()
    known_before: dict[Id, KnownBefore] = {}
    trusts_speech: bool = False
    rules: Annotated[int, Field(ge=1, le=RULES, strict=True)] = RULES


class BaselineSeen(Shape):
    """The original action was tried before the first rung."""

    kind: Literal["baseline"] = "baseline"
    result: Baseline


class WentOn(Shape):
    """The fault is not there now, but the climb goes on all the same."""

    kind: Literal["went-on"] = "went-on"


class FactGiven(Shape):
    """A fact, or the input of a step, was asked; `value` None: nobody can tell."""

    kind: Literal["fact"] = "fact"
    fact: Id
    value: Annotated[str, Field(min_length=1, max_length=300)] | None


class TriedBefore(Shape):
    """Caller or machine had done this step before the desk was called: a fix without success, a check with what it
    found; or something that is no step of this ladder, in their own words (`called`)."""

    kind: Literal["tried-before"] = "tried-before"
    step: Id | None = None
    called: Annotated[str, Field(min_length=1, max_length=120)] | None = None
    finding: Id | None = None

    @model_validator(mode="after")
    def _says_what_was_done(self) -> "TriedBefore":
        if (self.step is None) == (self.called is None):
            raise ValueError("say which step it was, or in their own words what was done")
        return self


class SignTold(Shape):
    """Whether a sign that can be seen is there; `seen` None: nobody looked after all. Told again, it is put right."""

    kind: Literal["sign"] = "sign"
    sign: Line
    seen: Literal["yes", "no"] | None


class GuardAnswered(Shape):
    """One guard question of the current step was answered."""

    kind: Literal["guard"] = "guard"
    step: Id
    number: Annotated[int, Field(ge=0, le=1000, strict=True)]
    answer: Literal["yes", "no"]


class Consented(Shape):
    """The caller said yes or no to a rough or severe step, its cost having been read out."""

    kind: Literal["consent"] = "consent"
    step: Id
    answer: Literal["yes", "no"]


class Answered(Shape):
    """How the current step ended. `harmed`: the harm that carrying it out did; empty: asked, none; None: not asked.

    reading: the number that was read; it decides the finding, which may then be left out. ways: of what can be done in
    several ways, the words of those that worked. safeguard_used: the safeguard whose copy the harm made needed;
    put_right: how much could be put right from it.
    """

    kind: Literal["answer"] = "answer"
    step: Id
    outcome: Outcome | None = None
    finding: Id | None = None
    took: Literal["no"] | None = None
    harmed: Annotated[tuple[HazardKind, ...], Field(max_length=5)] | None = None
    reading: Annotated[float, Field(allow_inf_nan=False)] | None = None
    ways: Annotated[tuple[Line, ...], Field(max_length=100)] | None = None
    safeguard_used: Id | None = None
    put_right: PutRight | None = None


class AnotherValue(Shape):
    """The current step did not help with these values; it is tried with another one at once."""

    kind: Literal["another-value"] = "another-value"
    step: Id


class StepBegun(Shape):
    """A step that must not be interrupted is begun; until then the case may wait."""

    kind: Literal["begun"] = "begun"
    step: Id


class TakenOutOfTurn(Shape):
    """A later rung of the main line is taken now, with the safeguards that belong above it."""

    kind: Literal["out-of-turn"] = "out-of-turn"
    path: Annotated[str, Field(pattern=r"^ladder\.[0-9]{1,4}$")]


class OffLadder(Shape):
    """Something that no rung asks for was done: a step of the library, one of this ladder once more, or what the agent
    says in their own words (`called` alone). why: why a step is repeated; agreed: the caller said yes to a rough one.
    """

    kind: Literal["off-ladder"] = "off-ladder"
    step: Id | None = None
    called: Annotated[str, Field(min_length=1, max_length=120)]
    why: Line | None = None
    outcome: Literal["fixed", "no-change", "better", "worse", "done"]
    agreed: bool = False


class TakenOver(Shape):
    """Somebody else goes on with the case: whoever made this event."""

    kind: Literal["taken-over"] = "taken-over"


class Searched(Shape):
    """One round of the current step's search: whether the bad one was among those that were tried."""

    kind: Literal["searched"] = "searched"
    step: Id
    is_among: bool


class Paused(Shape):
    """The case waits. `minutes`: for how long, where that is known; a watch is always so long. runs: the current step
    goes on by itself meanwhile. part: what it waits for, where it is a part."""

    kind: Literal["pause"] = "pause"
    reason: PauseReason
    part: AwaitedPart | None = None
    minutes: Annotated[float, Field(gt=0, le=60 * 24 * 366, allow_inf_nan=False)] | None = None


class Resumed(Shape):
    """The case is taken up again."""

    kind: Literal["resume"] = "resume"


class TiedUp(Shape):
    """A loose end was closed; or, with `why_left`, stays open."""

    kind: Literal["tied-up"] = "tied-up"
    end: Annotated[str, Field(min_length=1, max_length=200)]
    why_left: Line | None = None


class Noted(Shape):
    """A remark for whoever reads the case."""

    kind: Literal["note"] = "note"
    text: Prose


class TakenBack(Shape):
    """The last answer is taken back."""

    kind: Literal["take-back"] = "take-back"


class Ended(Shape):
    """The case is closed, handed off to a team, or sent on to another playbook (`sent_on`).

    why_left: why the loose ends that are still open stay so. notice: what is known now turned out to be behind it, by
    number: the caller is logged to that, and the case does not go into the log.
    """

    kind: Literal["end"] = "end"
    end: End
    hand_off: Id | None = None
    sent_on: Id | None = None
    confirmed: Confirmed = "none"
    why_left: Line | None = None
    notice: Annotated[int, Field(ge=1, le=2**31, strict=True)] | None = None


Move = Annotated[
    Started
    | BaselineSeen
    | WentOn
    | FactGiven
    | TriedBefore
    | SignTold
    | GuardAnswered
    | Consented
    | StepBegun
    | TakenOutOfTurn
    | OffLadder
    | TakenOver
    | Answered
    | AnotherValue
    | Searched
    | Paused
    | Resumed
    | TiedUp
    | Noted
    | TakenBack
    | Ended,
    Field(discriminator="kind"),
]
TAKEN_BACK = (
    BaselineSeen,
    WentOn,
    FactGiven,
    GuardAnswered,
    Consented,
    StepBegun,
    TakenOutOfTurn,
    OffLadder,
    Answered,
    AnotherValue,
    Searched,
    Paused,
    Resumed,
    TiedUp,
)


class ClimbEvent(Shape):
    """One move with who made it, by number, and when."""

    at: AwareDatetime
    who: Annotated[int, Field(strict=True)]
    move: Move
