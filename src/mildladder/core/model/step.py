"""A step: a reusable action, with its costs, its risks, its findings and everything that an agent needs."""

from datetime import date
from typing import Annotated, Literal

from pydantic import ConfigDict, Field, model_validator

from mildladder.core.model.base import (
    MOST_LINE,
    Amount,
    Chance,
    Duration,
    FactType,
    FactValue,
    FootingRef,
    HazardKind,
    Id,
    Line,
    Minutes,
    Person,
    PicturePath,
    Prose,
    Shape,
    Share,
    StepKind,
)
from mildladder.core.model.patterns import is_pattern

__all__ = [
    "SEARCH_FINDS",
    "Afterwards",
    "Band",
    "Effort",
    "Finding",
    "Guard",
    "HandOffRef",
    "Hazard",
    "Input",
    "Instruction",
    "Need",
    "Reading",
    "Search",
    "Source",
    "Step",
    "Undo",
    "Variant",
    "Way",
]


class Effort(Shape):
    """What a step costs: minutes, but for `parts`, which is money."""

    hands_on: Minutes = 0.0
    by: Person = "desk"
    wait: Minutes = 0.0
    travel: Minutes = 0.0
    parts: Amount = 0.0


Undoable = Literal["yes", "partly", "no"]


class Hazard(Shape):
    """One way a step can do harm: severity 1 to 5, and the chance of it each time the step is carried out.

    `eased_to` replaces `chance`'s full weight by that share of it once the safeguard `eased_by` has been carried out.
    undo: how far this harm alone can be undone, where that differs from its step's.
    """

    kind: HazardKind
    severity: Annotated[int, Field(ge=1, le=5, strict=True)]
    chance: Share
    eased_by: Id | None = None
    eased_to: Share = 1.0
    undo: Undoable | None = None

    @model_validator(mode="after")
    def _eased_needs_both(self) -> "Hazard":
        if ("eased_to" in self.model_fields_set) != (self.eased_by is not None):
            raise ValueError("eased_by and eased_to go together")
        return self


class Undo(Shape):
    """How far a step can be undone, at what cost, and whether it is put back before the next rung; `restored`: a
    workaround is taken off again before its lasting repair is tested.

    footing: in which it is put back; None: in the step's own, `any`: wherever the unit stands.
    """

    possible: Undoable = "no"
    how: Prose | None = None
    effort: Effort | None = None
    after: Literal["never", "no-change", "always", "restored"] = "never"
    footing: FootingRef | None = None


class Finding(Shape):
    """One result of a step. `given`: P(finding | cause), with "*" for the causes not listed; relative weights."""

    id: Id
    title: Line
    given: dict[str, Share] = {}


Way = Annotated[tuple["Instruction", ...], Field(min_length=1)]


class Instruction(Shape):
    """One thing to do, or several `ways` of doing it, tried in turn.

    {name} is filled from facts, values in signs and inputs; {not name} is the other option of a two-way input.
    copy: a command that is copied, never retyped. when: only on units for which that condition holds. hold: counted
    on screen.
    """

    text: Prose | None = None
    picture: PicturePath | None = None
    when: Line | None = None
    hold: Duration | None = None
    ways: Annotated[tuple[Way, ...], Field(min_length=2)] | None = None
    copy_: Annotated[Annotated[str, Field(min_length=1, max_length=2000)] | None, Field(alias="copy")] = None

    model_config = ConfigDict(frozen=True, extra="forbid", serialize_by_alias=True, validate_by_name=True)

    @model_validator(mode="after")
    def _says_one_thing(self) -> "Instruction":
        if (self.text is None) == (self.ways is None):
            raise ValueError("an instruction has a text, or ways, and not both")
        return self


class HandOffRef(Shape):
    """A hand-off named from elsewhere in the playbook."""

    hand_off: Id


class Guard(Shape):
    """A question that must be answered as told before the step may be carried out; otherwise `else` follows.

    inside: asked once the step's state is entered, of what is seen there.
    """

    ask: Line
    must: Literal["yes", "no"]
    inside: bool = False
    else_: Annotated[
        Literal["nothing-to-do", "not-available", "could-not", "skipped"] | HandOffRef, Field(alias="else")
    ]

    model_config = ConfigDict(frozen=True, extra="forbid", serialize_by_alias=True, validate_by_name=True)


class Need(Shape):
    """Something that must be to hand. `from`: where it is fetched."""

    what: Line
    kind: Literal["tool", "part", "right", "skill", "second-device"]
    from_: Annotated[Line | None, Field(alias="from")] = None

    model_config = ConfigDict(frozen=True, extra="forbid", serialize_by_alias=True, validate_by_name=True)


class Input(Shape):
    """A value found on the way, asked once and filled into texts and commands; or one that is computed from others.

    compute: a sum of numbers and names; round: to whole multiples of it. form: what it looks like, in words. pattern:
    of the whole of a text (I-Regexp, RFC 9485); what it allows may stand in a command. min, max: of a number. most:
    characters.
    """

    id: Id
    ask: Annotated[str, Field(max_length=MOST_LINE)] = ""
    compute: Annotated[str, Field(min_length=1, max_length=200)] | None = None
    round: Annotated[float, Field(gt=0, le=1e6, allow_inf_nan=False)] | None = None
    where: Line | None = None
    type: FactType = "text"
    form: Line | None = None
    options: Annotated[tuple[FactValue, ...], Field(min_length=2)] | None = None
    pattern: Annotated[str, Field(min_length=1, max_length=200)] | None = None
    min: Annotated[float, Field(allow_inf_nan=False)] | None = None
    max: Annotated[float, Field(allow_inf_nan=False)] | None = None
    most: Annotated[int, Field(ge=1, le=300)] = 120

    @model_validator(mode="after")
    def _is_asked_or_computed(self) -> "Input":
        if bool(self.ask) == (self.compute is not None):
            raise ValueError("an input has an ask, or is computed, and not both")
        if self.round is not None and self.compute is None:
            raise ValueError("only an input that is computed has a round")
        if self.compute is not None and (self.options is not None or self.pattern is not None or self.type != "text"):
            raise ValueError("an input that is computed is a number; it has no type, options or pattern")
        return self

    @model_validator(mode="after")
    def _limits_belong_to_types(self) -> "Input":
        if self.pattern is not None and self.type != "text":
            raise ValueError("only an input of type text has a pattern")
        if (self.min is not None or self.max is not None) and self.type != "number":
            raise ValueError("only an input of type number has a min or a max")
        if self.min is not None and self.max is not None and self.min > self.max:
            raise ValueError("min stands above max")
        if self.pattern is not None and not is_pattern(self.pattern):
            raise ValueError("the pattern cannot be read; it is an I-Regexp (RFC 9485), such as G[0-9]{2}")
        return self

    @model_validator(mode="after")
    def _options_belong_to_choices(self) -> "Input":
        if (self.type == "choice") != (self.options is not None):
            raise ValueError("an input of type choice has options, and no other input has them")
        return self


class Afterwards(Shape):
    """A loose end that the step leaves, and after which ends it must be tied up. due: how long after the case it is to
    be done; None: before the case is closed."""

    text: Prose
    due: Duration | None = None
    if_: Annotated[Literal["always", "fixed", "not-fixed"], Field(alias="if")] = "always"

    model_config = ConfigDict(frozen=True, extra="forbid", serialize_by_alias=True, validate_by_name=True)


# What a search that is a check may find: the ids of its two findings.
SEARCH_FINDS = ("found", "none")


class Search(Shape):
    """A check that narrows down `count` like suspects, or a fix that tries one after the other; `round`: the effort of
    looking, or trying, once.

    ask: the agent says how many there are on this unit; `count` is then the usual number. found: the name under which
    the number of the bad one becomes a value for what follows.
    """

    over: Line
    count: Annotated[int, Field(ge=2, le=10_000, strict=True)]
    how: Literal["halves", "one-by-one"]
    round: Effort
    ask: bool = False
    found: Id | None = None


class Band(Shape):
    """A range of a reading, up to `below` (None: all the rest), and the finding that it stands for."""

    below: Annotated[float, Field(allow_inf_nan=False, strict=True)] | None = None
    finding: Id


class Reading(Shape):
    """A number that decides the finding by the first band that it falls into."""

    unit: Line | None = None
    bands: Annotated[tuple[Band, ...], Field(min_length=1)]


class Source(Shape):
    """Where a step's advice comes from."""

    kind: Literal["maker", "own-desk", "colleague", "article", "seller"]
    ref: Line | None = None
    read: date | None = None


class Variant(Shape):
    """What is otherwise on units for which `when` holds; keys that are left out stay as they are."""

    when: Line
    effort: Effort | None = None
    hazards: tuple[Hazard, ...] | None = None
    done: Share | None = None
    fixes: dict[Id, Chance] | None = None
    footing: FootingRef | None = None
    to_hand: tuple[Need, ...] | None = None
    say: Prose | None = None
    guard: tuple[Guard, ...] | None = None
    expect: Prose | None = None
    harmless: tuple[Prose, ...] | None = None
    missing: Prose | None = None
    stuck: Prose | None = None
    beware: tuple[Prose, ...] | None = None


class Step(Shape):
    """A reusable action, with everything that an agent needs to carry it out.

    footing: the state in which it is done; None: the normal state, `any`: whatever stands. proves: when the original
    action can be tried. watch: normal use before it can be judged. includes: steps that this one does as well;
    cancels: steps that it undoes: they count as not done after it.
    uses: what must still work on the unit. unbroken: must not be interrupted once begun.
    """

    id: Id
    title: Line
    kind: StepKind
    effort: Effort = Effort()
    fixes: dict[Id, Chance] = {}
    done: Share = 1.0
    proves: Literal["in-place", "after-leaving", "after-restart"] = "in-place"
    footing: FootingRef | None = None
    hazards: tuple[Hazard, ...] = ()
    undo: Undo | None = None
    varies: tuple[Variant, ...] = ()
    search: Search | None = None
    findings: tuple[Finding, ...] = ()
    reading: Reading | None = None
    needs: tuple[Id, ...] = ()
    includes: tuple[Id, ...] = ()
    cancels: tuple[Id, ...] = ()
    inputs: tuple[Input, ...] = ()
    uses: tuple[Id, ...] = ()
    unbroken: bool = False
    watch: Duration | None = None
    afterwards: tuple[Afterwards, ...] = ()
    beware: tuple[Prose, ...] = ()
    source: Source | None = None
    do: tuple[Instruction, ...] = ()
    say: Prose | None = None
    guard: tuple[Guard, ...] = ()
    expect: Prose | None = None
    harmless: tuple[Prose, ...] = ()
    missing: Prose | None = None
    stuck: Prose | None = None
    to_hand: tuple[Need, ...] = ()

    @property
    def is_tested(self) -> bool:
        """Whether the original action is tried again after it: true of fixes and workarounds alone."""
        return self.kind in ("fix", "workaround")


Instruction.model_rebuild()
