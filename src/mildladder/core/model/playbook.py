"""A playbook: symptom, facts, causes, footings and the ladder of rungs; and the document that the store keeps."""

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Discriminator, Field, Tag, model_validator

from mildladder.core.model.base import (
    Amount,
    FactType,
    FactValue,
    Id,
    Layer,
    Line,
    Minutes,
    Mode,
    PicturePath,
    Prose,
    Shape,
    Share,
)
from mildladder.core.model.step import Effort, HandOffRef, Hazard, Instruction, Need, Step

__all__ = [
    "AfterFix",
    "Again",
    "Cause",
    "Document",
    "Entering",
    "Fact",
    "Footing",
    "HandOff",
    "LeaveAlone",
    "Leaving",
    "Likelier",
    "LookAlike",
    "Playbook",
    "PlaybookRef",
    "Policy",
    "RailEntry",
    "Retest",
    "Rung",
    "Sign",
    "SignKind",
    "Symptom",
    "Weights",
]


SignKind = Literal["message", "code", "seen"]


class Sign(Shape):
    """What a symptom is recognised by. {name} in a message matches anything and becomes a value.

    catch: how to get to see it; picture: where one lies beside the file. points_to: how many times likelier each of
    these causes is where it is seen.
    """

    kind: SignKind
    text: Line
    catch: Line | None = None
    picture: PicturePath | None = None
    points_to: dict[Id, Amount] = {}


class LeaveAlone(Shape):
    """A part that the symptom wrongly throws suspicion on."""

    what: Line
    why: Line


class LookAlike(Shape):
    """A sign that belongs to another symptom's playbook."""

    sign: Line
    playbook: Id


class Symptom(Shape):
    """What callers meet. `lost`: what the fault takes away, which no step may then use."""

    says: Line
    signs: tuple[Sign, ...] = ()
    leave_alone: tuple[LeaveAlone, ...] = ()
    see_also: tuple[LookAlike, ...] = ()
    not_covered: Prose | None = None
    lost: tuple[Id, ...] = ()


class Fact(Shape):
    """Something known or asked about the unit.

    choices: of a choice fact alone, the share of cases with each value. shares: the same over sample values of any
    other fact; without them a comparison is unknown to a forecast. Either sums to 1.
    """

    id: Id
    ask: Line
    where: Line | None = None
    type: FactType
    choices: Annotated[dict[FactValue, Share], Field(min_length=1)] | None = None
    shares: Annotated[dict[FactValue, Share], Field(min_length=1)] | None = None

    @model_validator(mode="after")
    def _choices_belong_to_choice_facts(self) -> "Fact":
        if (self.type == "choice") != (self.choices is not None):
            raise ValueError("a choice fact has choices, and no other fact has them")
        if self.type == "choice" and self.shares is not None:
            raise ValueError("the shares of a choice fact stand in its choices")
        return self

    @property
    def spread(self) -> dict[str, float]:
        """Share of cases by value; empty when nobody has said."""
        return dict(self.choices or self.shares or {})


class Likelier(Shape):
    """On units for which `when` holds, a cause is so many `times` as likely (not at all: 0)."""

    when: Line
    times: Amount


class Cause(Shape):
    """A suspected fault. `weight`: how common it is, relative to the other causes; likelier: where it is otherwise."""

    id: Id
    title: Line
    layer: Layer
    weight: Amount = 1.0
    likelier: tuple[Likelier, ...] = ()


class Footing(Shape):
    """A state that steps need. Entering and leaving it cost effort; its hazards count each time it is entered.

    lost: what it takes away while it stands, which no step may then use.
    """

    id: Id
    title: Line
    within: Id | None = None
    lost: tuple[Id, ...] = ()
    enter: "Entering"
    leave: "Leaving"


class Leaving(Effort):
    """What leaving a footing, or restarting the unit, costs, and how it is done."""

    do: tuple[Instruction, ...] = ()


class Entering(Leaving):
    """What entering a footing costs, how it is done, and what harm it can do."""

    hazards: tuple[Hazard, ...] = ()
    to_hand: tuple[Need, ...] = ()


class Again(Shape):
    """In a could-not rail: the step is offered once more, and can now be carried out."""

    again: Literal[True]


class PlaybookRef(Shape):
    """The end of a rail: the case goes on in another playbook; `from`: at the first rung there that has this step."""

    playbook: Id
    from_: Annotated[Id | None, Field(alias="from")] = None

    model_config = ConfigDict(frozen=True, extra="forbid", serialize_by_alias=True, validate_by_name=True)


class Rung(Shape):
    """A step's place on the ladder. `note`: why it stands there.

    on: side rails, each climbed after one finding or outcome of the step. trial: neighbouring rungs of one trial are
    done in a row and tested once. keep: rungs that stay together in this order. pin: first or last of all.
    """

    step: Id
    when: Line | None = None
    note: Prose | None = None
    on: dict[Id, Annotated[tuple["RailEntry", ...], Field(max_length=200)]] = {}
    trial: Id | None = None
    keep: Id | None = None
    pin: Literal["first", "last"] | None = None
    optional: bool = False


def _sort_of_entry(entry: Any) -> str:
    """Which sort of rail entry somebody meant, by the key that gives it away."""
    if isinstance(entry, BaseModel):
        sorts: dict[type, str] = {Again: "again", HandOffRef: "hand_off", PlaybookRef: "playbook"}
        return sorts.get(type(entry), "step")
    keys = entry if isinstance(entry, dict) else {}
    return next((key for key in ("again", "hand_off", "playbook") if key in keys), "step")


RailEntry = Annotated[
    Annotated[Rung, Tag("step")]
    | Annotated[Again, Tag("again")]
    | Annotated[HandOffRef, Tag("hand_off")]
    | Annotated[PlaybookRef, Tag("playbook")],
    Discriminator(_sort_of_entry),
]


class AfterFix(Shape):
    """A prevention, offered once the fault is resolved."""

    step: Id
    when: Line | None = None


class Retest(Shape):
    """Trying the original action again; its minutes are those of whoever did the step before it."""

    how: Prose
    hands_on: Minutes = 0.0
    wait: Minutes = 0.0


class HandOff(Shape):
    """A team that takes what the ladder leaves. theirs: what the case costs that team, where it is known; tell: facts,
    inputs and parts of messages that it must be told."""

    id: Id
    title: Line
    effort: Effort = Effort()
    theirs: Effort | None = None
    default: bool = False
    tell: tuple[Id, ...] = ()


class Weights(Shape):
    """What a minute of each sort counts in effort minutes, and what one unit of money in parts counts."""

    caller: Amount = 1.0
    desk: Amount = 1.0
    visit: Amount = 1.5
    wait: Amount = 0.25
    travel: Amount = 1.0
    parts: Amount = 1.0


class Policy(Shape):
    """The lead's choices. `rate`: effort minutes that avoiding one harm point is worth."""

    rate: Amount = 5.0
    mode: Mode = "mildest"
    weights: Weights = Weights()


class Playbook(Shape):
    """The self-contained document: a draft, an edition and a playbook file are all one of these."""

    format: Literal["mild-ladder/playbook/1"]
    id: Id
    title: Line
    symptom: Symptom
    facts: tuple[Fact, ...] = ()
    causes: Annotated[tuple[Cause, ...], Field(min_length=1)]
    footings: tuple[Footing, ...] = ()
    restart: Leaving | None = None
    steps: tuple[Step, ...]
    ladder: Annotated[tuple[Rung, ...], Field(max_length=1000)]
    after_fix: tuple[AfterFix, ...] = ()
    retest: Retest | None = None
    hand_offs: tuple[HandOff, ...] = ()
    policy: Policy = Policy()

    def step(self, step_id: str) -> Step:
        """The step of that id; KeyError when the document has none."""
        for step in self.steps:
            if step.id == step_id:
                return step
        raise KeyError(step_id)

    @property
    def default_hand_off(self) -> HandOff | None:
        """Where what the ladder leaves is handed: the one marked default, else the only one there is."""
        marked = [hand_off for hand_off in self.hand_offs if hand_off.default]
        if marked:
            return marked[0]
        return self.hand_offs[0] if len(self.hand_offs) == 1 else None


class Document(Shape):
    """A playbook as the store keeps it.

    origins: step id -> the library step and version that it came from. pictures: path -> digest of the kept picture.
    """

    playbook: Playbook
    origins: dict[str, tuple[str, int]]
    pictures: dict[str, str] = {}


for _shape in (Footing, Rung, Playbook):
    _shape.model_rebuild()
