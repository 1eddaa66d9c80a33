"""The one definition of every shape: playbooks as authored and cases as logged.

Files, store, API and the front end's types are all made from these models, so a shape changes here or nowhere.
Everything is frozen: a change is a new document.
"""

from datetime import date, datetime
from typing import Annotated, Any, Literal, get_args

from pydantic import AwareDatetime, BaseModel, ConfigDict, Discriminator, Field, Tag, model_validator
from pydantic.json_schema import DEFAULT_REF_TEMPLATE, GenerateJsonSchema, JsonSchemaMode, JsonSchemaValue
from pydantic_core.core_schema import DictSchema

__all__ = [
    "FORMAT",
    "OUTCOMES",
    "SOMETHING_ELSE",
    "AfterFix",
    "Afterwards",
    "Again",
    "Attempt",
    "Band",
    "Baseline",
    "By",
    "Case",
    "Cause",
    "Chance",
    "ChanceWord",
    "Confirmed",
    "Consent",
    "Document",
    "Effort",
    "End",
    "Entering",
    "Fact",
    "FactType",
    "Finding",
    "Footing",
    "Guard",
    "HandOff",
    "HandOffRef",
    "Hazard",
    "HazardKind",
    "Input",
    "Instruction",
    "Layer",
    "LeaveAlone",
    "Leaving",
    "LookAlike",
    "Need",
    "Outcome",
    "Passed",
    "Person",
    "Playbook",
    "PlaybookRef",
    "Policy",
    "RailEntry",
    "Reading",
    "Retest",
    "Rung",
    "Search",
    "Shape",
    "Sign",
    "Source",
    "Step",
    "StepKind",
    "Symptom",
    "Undo",
    "Variant",
    "Weights",
]

FORMAT = "mild-ladder/playbook/1"
SOMETHING_ELSE = "something-else"

Layer = Literal["wiring", "power", "settings", "software", "data", "network", "hardware", "outside"]
StepKind = Literal["check", "fix", "safeguard", "workaround", "prevention"]
HazardKind = Literal["data", "service", "equipment", "security", "injury"]
Person = Literal["caller", "desk", "visit"]
By = Literal["caller", "desk", "visit", "before"]
ChanceWord = Literal["nearly-always", "usually", "often", "sometimes", "rarely"]
Outcome = Literal[
    "fixed", "no-change", "better", "worse", "nothing-to-do", "not-available", "could-not", "skipped", "done"
]
OUTCOMES: tuple[Outcome, ...] = get_args(Outcome)
End = Literal["resolved", "worked-around", "handed-off", "abandoned", "self-cleared"]
Baseline = Literal["fails", "works", "cannot-try"]
Confirmed = Literal["caller", "measured", "assumed", "none"]

Id = Annotated[str, Field(pattern=r"^[a-z0-9]+(-[a-z0-9]+)*$", max_length=64)]
Line = Annotated[str, Field(min_length=1, max_length=300)]
Prose = Annotated[str, Field(min_length=1, max_length=4000)]
Minutes = Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False, strict=True)]
Amount = Minutes
Share = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False, strict=True)]
Chance = Share | ChanceWord
FactType = Literal["choice", "version", "text", "number", "yes-no", "duration"]
FactValue = Annotated[str, Field(min_length=1, max_length=60)]
_CLOCK = "([0-9]{1,4}H([0-9]{1,4}M)?([0-9]{1,5}S)?|[0-9]{1,4}M([0-9]{1,5}S)?|[0-9]{1,5}S)"
Duration = Annotated[str, Field(pattern=rf"^P([0-9]{{1,4}}D|([0-9]{{1,4}}D)?T{_CLOCK})$")]
PicturePath = Annotated[str, Field(pattern=r"^[A-Za-z0-9_-][A-Za-z0-9_./-]*\.(png|jpg|jpeg|webp)$", max_length=200)]
FootingRef = Id


_UnionFormat = Literal["any_of", "primitive_type_array"]


class _ExactKeys(GenerateJsonSchema):
    """JSON Schema that also says of a mapping that no other keys than the patterned ones are read."""

    def dict_schema(self, schema: DictSchema) -> JsonSchemaValue:
        """The mapping's schema, its pattern as that of every property name."""
        made = super().dict_schema(schema)
        for pattern, values in made.pop("patternProperties", {}).items():
            made["propertyNames"] = {"pattern": pattern}
            made["additionalProperties"] = values
        return made


class Shape(BaseModel):
    """Base of every shape: immutable, and strict about keys that it does not know."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    @classmethod
    def model_json_schema(
        cls,
        by_alias: bool | None = None,
        ref_template: str = DEFAULT_REF_TEMPLATE,
        schema_generator: type[GenerateJsonSchema] = _ExactKeys,
        mode: JsonSchemaMode = "validation",
        *,
        union_format: _UnionFormat = "any_of",
    ) -> dict[str, Any]:
        """JSON Schema of the shape (see pydantic), exact about the keys of mappings."""
        return super().model_json_schema(by_alias, ref_template, schema_generator, mode, union_format=union_format)


class Sign(Shape):
    """What a symptom is recognised by. {name} in a message matches anything and becomes a value.

    catch: how to get to see it; picture: where one lies beside the file.
    """

    kind: Literal["message", "code", "seen"]
    text: Line
    catch: Line | None = None
    picture: PicturePath | None = None


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


class Cause(Shape):
    """A suspected fault. `weight`: how common it is, relative to the other causes."""

    id: Id
    title: Line
    layer: Layer
    weight: Amount


class Effort(Shape):
    """What a step costs: minutes, but for `parts`, which is money."""

    hands_on: Minutes = 0.0
    by: Person = "desk"
    wait: Minutes = 0.0
    travel: Minutes = 0.0
    parts: Amount = 0.0


class Hazard(Shape):
    """One way a step can do harm: severity 1 to 5, and the chance of it each time the step is carried out.

    `eased_to` replaces `chance`'s full weight by that share of it once the safeguard `eased_by` has been carried out.
    """

    kind: HazardKind
    severity: Annotated[int, Field(ge=1, le=5, strict=True)]
    chance: Share
    eased_by: Id | None = None
    eased_to: Share = 1.0

    @model_validator(mode="after")
    def _eased_needs_both(self) -> "Hazard":
        if ("eased_to" in self.model_fields_set) != (self.eased_by is not None):
            raise ValueError("eased_by and eased_to go together")
        return self


class Undo(Shape):
    """How far a step can be undone, at what cost, and whether it is put back before the next rung."""

    possible: Literal["yes", "partly", "no"] = "no"
    how: Prose | None = None
    effort: Effort | None = None
    after: Literal["never", "no-change", "always"] = "never"


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
    """A question that must be answered as told before the step may be carried out; otherwise `else` follows."""

    ask: Line
    must: Literal["yes", "no"]
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
    """A value found on the way, asked once and filled into texts and commands. `form`: what it looks like."""

    id: Id
    ask: Line
    where: Line | None = None
    type: FactType = "text"
    form: Line | None = None
    options: Annotated[tuple[FactValue, ...], Field(min_length=2)] | None = None

    @model_validator(mode="after")
    def _options_belong_to_choices(self) -> "Input":
        if (self.type == "choice") != (self.options is not None):
            raise ValueError("an input of type choice has options, and no other input has them")
        return self


class Afterwards(Shape):
    """A loose end that the step leaves, and after which ends it must be tied up."""

    text: Prose
    if_: Annotated[Literal["always", "fixed", "not-fixed"], Field(alias="if")] = "always"

    model_config = ConfigDict(frozen=True, extra="forbid", serialize_by_alias=True, validate_by_name=True)


class Search(Shape):
    """A check that narrows down `count` like suspects; `round`: the effort of looking once."""

    over: Line
    count: Annotated[int, Field(ge=2, le=10_000, strict=True)]
    how: Literal["halves", "one-by-one"]
    round: Effort


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


class Step(Shape):
    """A reusable action, with everything that an agent needs to carry it out.

    footing: the state in which it is done; None: the normal state, `any`: whatever stands. proves: when the original
    action can be tried. watch: normal use before it can be judged. includes: steps that this one does as well.
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


class Footing(Shape):
    """A state that steps need. Entering and leaving it cost effort; its hazards count each time it is entered."""

    id: Id
    title: Line
    within: Id | None = None
    enter: "Entering"
    leave: "Leaving"


class Leaving(Effort):
    """What leaving a footing costs, and how it is done."""

    do: tuple[Instruction, ...] = ()


class Entering(Leaving):
    """What entering a footing costs, how it is done, and what harm it can do."""

    hazards: tuple[Hazard, ...] = ()
    to_hand: tuple[Need, ...] = ()


class Again(Shape):
    """In a could-not rail: the step is offered once more, and can now be carried out."""

    again: Literal[True]


class PlaybookRef(Shape):
    """The end of a rail: the case goes on in another playbook."""

    playbook: Id


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
    """A team that takes what the ladder leaves. `tell`: the facts that it must be told."""

    id: Id
    title: Line
    effort: Effort = Effort()
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
    mode: Literal["mildest", "balanced"] = "mildest"
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
    restart: Effort | None = None
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


class Attempt(Shape):
    """One step tried on a case. Attempts with one `trial` number were tested together."""

    step: Annotated[str, Field(min_length=1, max_length=120)]
    outcome: Outcome | None = None
    finding: Id | None = None
    minutes: Minutes | None = None
    by: By = "desk"
    trial: Annotated[int, Field(ge=1, le=10_000, strict=True)] | None = None
    took: Literal["yes", "no", "unknown"] | None = None
    harmed: tuple[HazardKind, ...] | None = None
    safeguard_used: Id | None = None
    reading: Annotated[float, Field(allow_inf_nan=False, strict=True)] | None = None
    at: AwareDatetime | None = None

    @model_validator(mode="after")
    def _says_how_it_ended(self) -> "Attempt":
        if self.outcome is None and self.finding is None:
            raise ValueError("an attempt needs an outcome or a finding")
        return self


class Consent(Shape):
    """A yes to a rough or severe step, given after its cost was read out."""

    step: Id
    who: Line
    at: AwareDatetime


class Passed(Shape):
    """A rung that did not come up, and why."""

    step: Id
    why: Line


class Case(Shape):
    """One logged support case, guided here or brought in from elsewhere."""

    case: Annotated[str, Field(pattern=r"^[A-Za-z0-9][A-Za-z0-9._:-]*$", max_length=64)]
    opened: AwareDatetime
    closed: AwareDatetime
    symptom: Id
    said: Annotated[str, Field(max_length=4000)] | None = None
    unit: Annotated[str, Field(min_length=1, max_length=120)] | None = None
    facts: dict[Id, Annotated[str, Field(max_length=300)]] = {}
    playbook: Id | None = None
    edition: Annotated[int, Field(ge=1, le=1_000_000, strict=True)] | None = None
    attempts: Annotated[tuple[Attempt, ...], Field(max_length=1000)] = ()
    baseline: Baseline | None = None
    values: dict[str, str] = {}
    consents: tuple[Consent, ...] = ()
    passed: tuple[Passed, ...] = ()
    end: End
    resolved_by: Annotated[str, Field(min_length=1, max_length=120)] | None = None
    confirmed: Confirmed | None = None
    came_back: AwareDatetime | None = None
    reopened_from: Annotated[str, Field(max_length=64)] | None = None
    notes: Annotated[str, Field(max_length=20_000)] | None = None

    @model_validator(mode="after")
    def _hangs_together(self) -> "Case":
        if self.closed < self.opened:
            raise ValueError("closed stands before opened")
        if self.came_back is not None and self.came_back < self.closed:
            raise ValueError("came_back stands before closed")
        if self.resolved_by is not None:
            if self.end not in ("resolved", "worked-around"):
                raise ValueError(f"resolved_by is given but the case ended {self.end}")
            if not any(a.step == self.resolved_by and a.outcome == "fixed" for a in self.attempts):
                raise ValueError(f"no attempt of resolved_by '{self.resolved_by}' has the outcome fixed")
        if (self.playbook is None) != (self.edition is None):
            raise ValueError("playbook and edition go together")
        return self

    @property
    def site(self) -> str:
        """Where the unit stands, for tallies; empty when nobody said."""
        return self.facts.get("site", "")

    def minutes(self) -> float:
        """Minutes from opening to closing."""
        return minutes_between(self.opened, self.closed)


def minutes_between(start: datetime, end: datetime) -> float:
    """Minutes from start to end, never negative."""
    return max(0.0, (end - start).total_seconds() / 60)


for _shape in (Instruction, Footing, Rung, Playbook):
    _shape.model_rebuild()
