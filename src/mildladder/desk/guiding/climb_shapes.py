"""What the screen of a guided case is made of, as the API sends it."""

from datetime import datetime
from typing import Literal

from mildladder.core.climb.answers import Answer
from mildladder.core.climb.machine import Place
from mildladder.core.climb.wording import FilledInstruction
from mildladder.core.figures.forecast import Forecast
from mildladder.core.model import End, FactType, HazardKind, LeaveAlone, LookAlike, Shape, SignKind, Step
from mildladder.core.model.events import KnownBefore, PauseReason
from mildladder.desk.titles import StepTitle

__all__ = [
    "ClimbSummary",
    "ClimbView",
    "CurrentStep",
    "DoneBefore",
    "EarlierView",
    "Hand",
    "HarmAsked",
    "Known",
    "LaterRung",
    "Likely",
    "LooseEndView",
    "NewOnRung",
    "Passage",
    "PathRung",
    "PauseView",
    "Question",
    "SearchView",
    "SignView",
    "Team",
    "TrialTest",
    "Watch",
]


class Passage(Shape):
    """Something to do before or after the step itself: entering or leaving a footing, putting a setting back.
    without: what is not there until the state is left that is entered."""

    title: str
    do: tuple[FilledInstruction, ...]
    without: tuple[str, ...] = ()


class CurrentStep(Shape):
    """The step to carry out now, its values filled in. `minutes`: expected on the clock; `grade`: bare risk grade;
    `cost`: what the caller is told first, None when there is nothing worth saying. `before`: what stands before it;
    `after`: the way out of its state, where it is tried again only out of it.
    `label`: its place on the ladder, None for a prevention; `only_where`: its condition in words, of a prevention of
    which nobody knows whether it holds.
    `retest`: how to try the original action, in order. `lacks`: what was to make it safe and could not be done,
    and what it uses and its state takes away.

    unattended: minutes that it goes on by itself, None where it does not; tried_with: the values with which it was
    tried already, in words.

    `chance_here`: share of the cases that come this far which it ends, by the edition's forecast; None for a step
    that ends nothing. `since`: when it came up.
    """

    step: Step
    label: str | None
    only_where: str | None
    note: str | None
    before: tuple[Passage, ...]
    do: tuple[FilledInstruction, ...]
    after: tuple[Passage, ...]
    to_hand: tuple[str, ...]
    cost: str | None
    minutes: float
    grade: int
    needs_consent: bool
    has_consent: bool
    lacks: tuple[str, ...]
    guards_answered: int
    chance_here: float | None
    retest: tuple[str, ...]
    since: datetime
    unattended: float | None
    tried_with: tuple[str, ...]


class SignView(Shape):
    """What the symptom is recognised by. `catch`: how to get to see it; `picture`: digest of the kept picture; `seen`:
    whether it was, of one that can be; None: nobody looked."""

    kind: SignKind
    text: str
    catch: str | None
    picture: str | None
    seen: Literal["yes", "no"] | None


class EarlierView(Shape):
    """A case that the unit had before. `ended_by`: title of the step that ended it, None when none did."""

    case: str
    closed: datetime
    ended_by: str | None


class TrialTest(Shape):
    """The original action is tried once for several steps. `before`: what stands before it; `how`: in order."""

    steps: tuple[str, ...]
    before: tuple[Passage, ...]
    how: tuple[str, ...]


class LaterRung(Shape):
    """A rung that may be taken now, out of turn; brings: titles of what stands before it and is taken along."""

    path: str
    label: str
    title: str
    brings: tuple[str, ...]


class DoneBefore(Shape):
    """A step that caller or machine may have done before the call; findings: what it may have found."""

    id: str
    title: str
    findings: tuple[StepTitle, ...]


class Hand(Shape):
    """Who has had the case, since when."""

    id: int
    name: str
    since: datetime


class LooseEndView(Shape):
    """Something that must be closed before the case is. `left_by`: the step that asks for it; `do`: how; `why_left`:
    why it stays open, None while it is to be closed."""

    id: str
    title: str
    left_by: str | None
    do: tuple[FilledInstruction, ...]
    why_left: str | None


class SearchView(Shape):
    """A search among like suspects, which are numbered from 1. first, last: those that are still suspect; tried_first,
    tried_last: those to try now; found: the bad one; rounds_left, minutes_left: at most. put_back: how one that
    was tried is put back."""

    over: str
    put_back: str | None
    count: int
    by_halves: bool
    first: int
    last: int
    tried_first: int | None
    tried_last: int | None
    is_decided: bool
    found: int | None
    round: int
    rounds_left: int
    minutes_left: float


class Watch(Shape):
    """How long the original action must be used before it can be judged. `interval`: minutes between two appearances
    of the fault, where that is known. With it, a quiet watch of w minutes is mere luck with chance exp(-w/interval).
    says, every: both in words."""

    minutes: float
    says: str
    interval: float | None
    every: str | None


class HarmAsked(Shape):
    """A kind of harm to ask about, and how it is seen. copy_from: the safeguard that was done for it, whose copy may
    then be needed."""

    kind: HazardKind
    says: str
    copy_from: StepTitle | None


class PauseView(Shape):
    """Why the case waits, since when, until when, how long in words; `watch`: what is watched, if that is why; part:
    what it waits for, in words; stuck: what a stuck run looks like."""

    reason: PauseReason
    since: datetime
    until: datetime | None
    lasts: str | None
    watch: Watch | None
    part: str | None
    stuck: str | None


class Question(Shape):
    """A fact or value that must be known before the ladder goes on. form: what it looks like; said: what it is by what
    the caller said, to be confirmed; known_before: what it was in the unit's last cases, and when."""

    id: str
    ask: str
    where: str | None
    type: FactType
    form: str | None
    said: str | None
    known_before: KnownBefore | None
    options: tuple[str, ...]


class PathRung(Shape):
    """One row beside the guided case. `says`: what came of it, or why it was passed over; depth: rails deep."""

    path: str
    label: str
    depth: int
    title: str
    step: str
    state: Literal["tried", "passed", "now", "ahead"]
    says: str


class Known(Shape):
    """A fact or value of the case, its value as one says it; it can be corrected at any time.

    said: the value as it was given, empty where nobody could tell; options: what it may be, where that is one of a
    few; is_confirmed: somebody gave it, and not only the caller's own words.
    """

    fact: str
    ask: str
    value: str
    said: str
    type: FactType
    options: tuple[str, ...]
    is_confirmed: bool


class Likely(Shape):
    """A cause with its chance after all that was answered, and the layer that it sits in."""

    cause: str
    title: str
    layer: str
    share: float


class Team(Shape):
    """Somebody whom the case may be handed off to; the default one stands first."""

    id: str
    title: str


class NewOnRung(Shape):
    """What is new of a step's rung since somebody last followed the ladder."""

    step: str
    says: str


class ClimbView(Shape):
    """Everything that the screen of a guided case shows. `number`: of the last event; the next move follows it.

    way_out: what is to be left or put back before what comes next; question: asked before the step, or inside it.
    test: of what is to be tested now; to_find: title of the step of it whose finding is to be told; harms:
    kinds of harm to ask about, worst first; watch:
    what must pass before it, or the current step, can be judged; later: what may be taken out of turn; may_go_off:
    whether something may be done that no rung asks for; done_before: what was done before the call, in words;
    off_ladder: what
    was done that no rung asks for, in words; hands: who has had the case, the last one now; new_since: what
    is new on the ladder since that person last followed it; is_restored: a workaround
    holds and the lasting repair is to come; waited: minutes in pauses that are over; loose_ends:
    what would be open if the case ended now, the next one first; sent_on: the playbook in which it goes on;
    ended: how it ended, in words; is_logged: the case stands in the log; untold: what was asked and nobody could tell.
    """

    id: str
    case: str
    playbook: str
    title: str
    edition: int
    who: str
    number: int
    opened: datetime
    closed: datetime | None
    waited: float
    said: str
    unit: str
    place: Place
    rungs: int
    current: CurrentStep | None
    test: TrialTest | None
    to_find: str | None
    harms: tuple[HarmAsked, ...]
    watch: Watch | None
    pause: PauseView | None
    way_out: LooseEndView | None
    search: SearchView | None
    loose_ends: tuple[LooseEndView, ...]
    sent_on: str | None
    question: Question | None
    answers: tuple[Answer, ...]
    can_take_back: bool
    path: tuple[PathRung, ...]
    forecast: Forecast
    known: tuple[Known, ...]
    untold: tuple[Known, ...]
    likely: tuple[Likely, ...]
    history: tuple[EarlierView, ...]
    signs: tuple[SignView, ...]
    see_also: tuple[LookAlike, ...]
    not_covered: str | None
    leave_alone: tuple[LeaveAlone, ...]
    untried: tuple[DoneBefore, ...]
    done_before: tuple[str, ...]
    later: tuple[LaterRung, ...]
    may_go_off: bool
    off_ladder: tuple[str, ...]
    hands: tuple[Hand, ...]
    ticket: str
    caller: str
    call_back: str
    reopened_from: str
    new_since: tuple[NewOnRung, ...]
    restored: datetime | None
    is_restored: bool
    teams: tuple[Team, ...]
    notes: tuple[str, ...]
    hand_off: str
    end: End | None
    ended: str | None
    is_logged: bool


class ClimbSummary(Shape):
    """An open guided case in a list. `at`: what it has come to; `waits`: why it waits, since when, and `until` when;
    part: the part that it waits for, in words."""

    id: str
    case: str
    title: str
    who: str
    opened: datetime
    said: str
    unit: str
    ticket: str
    caller: str
    at: str
    waits: PauseReason | None
    since: datetime | None
    until: datetime | None
    part: str | None
