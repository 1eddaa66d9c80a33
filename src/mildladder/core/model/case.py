"""Cases as logged: what was tried, in what order, with what result."""

from datetime import UTC, date, datetime
from typing import Annotated, Literal, NamedTuple

from pydantic import AfterValidator, AwareDatetime, BeforeValidator, ConfigDict, Field, model_validator

from mildladder.core.model.base import Baseline, By, Confirmed, End, HazardKind, Id, Line, Minutes, Outcome, Shape
from mildladder.core.model.outcomes import ENDS

__all__ = [
    "MOST_NOTES",
    "Attempt",
    "AwaitedPart",
    "Case",
    "CaseLine",
    "Consent",
    "Passed",
    "PutRight",
    "RefusedLine",
    "minutes_between",
]


_FIRST, _LAST = 1970, 2199


def _in_utc(moment: datetime) -> datetime:
    """Zones end here: whatever is worked out of a case is worked out in UTC."""
    try:
        there = moment.astimezone(UTC)
    except OverflowError:
        there = moment
    if not _FIRST <= there.year <= _LAST:
        raise ValueError(f"the year must lie between {_FIRST} and {_LAST}")
    return there


def _as_written(moment: object) -> object:
    """A number is no moment: nobody knows what it counts, and from when."""
    if isinstance(moment, datetime) or (isinstance(moment, str) and moment[4:5] == "-"):
        return moment
    raise ValueError("is no moment; write it as 2026-03-01T08:10:00Z")


PutRight = Literal["whole", "partly", "no"]
Moment = Annotated[AwareDatetime, BeforeValidator(_as_written), AfterValidator(_in_utc)]


class Attempt(Shape):
    """One step tried on a case. Attempts with one `trial` number were tested together. ways: of what can be done in
    several ways, the words of those that worked. safeguard_used: the safeguard whose copy was needed, and put_right:
    how much could be put right from it. tried_with: of a step that was tried with several values in turn, those of each
    try, in order."""

    step: Annotated[str, Field(min_length=1, max_length=120)]
    outcome: Outcome | None = None
    finding: Id | None = None
    minutes: Minutes | None = None
    by: By = "desk"
    trial: Annotated[int, Field(ge=1, le=10_000, strict=True)] | None = None
    took: Literal["yes", "no", "unknown"] | None = None
    harmed: tuple[HazardKind, ...] | None = None
    safeguard_used: Id | None = None
    put_right: PutRight | None = None
    reading: Annotated[float, Field(allow_inf_nan=False, strict=True)] | None = None
    ways: Annotated[tuple[Line, ...], Field(max_length=100)] | None = None
    tried_with: Annotated[tuple[dict[Id, Line], ...], Field(max_length=100)] | None = None
    at: Moment | None = None

    @model_validator(mode="after")
    def _says_how_it_ended(self) -> "Attempt":
        if self.outcome is None and self.finding is None:
            raise ValueError("an attempt needs an outcome or a finding")
        if self.put_right is not None and self.safeguard_used is None:
            raise ValueError("put_right is said of a safeguard_used")
        return self


class AwaitedPart(Shape):
    """A part that a case waited for. from: where it comes from; number: under which it was ordered; expected: the day
    on which it is; since: when the case began to wait."""

    what: Line
    from_: Annotated[Line | None, Field(alias="from")] = None
    number: Line | None = None
    expected: date | None = None
    since: Moment | None = None

    model_config = ConfigDict(frozen=True, extra="forbid", serialize_by_alias=True, validate_by_name=True)


class Consent(Shape):
    """A yes to a rough or severe step, given after its cost was read out."""

    step: Id
    who: Line
    at: Moment


MOST_NOTES = 20_000


class Passed(Shape):
    """A rung that did not come up, and why."""

    step: Id
    why: Line


class Case(Shape):
    """One logged support case, guided here or brought in from elsewhere.

    waited: minutes between opening and closing in which it waited for a watch, a part, an answer or a quiet hour.
    edition_hash: of the edition's content, so that another desk can tell whether it has the same. sent_on: the playbook
    in which a case that was handed off went on. ticket, caller, call_back: the other system's number, who called, and
    where to call back. signs: of those that can be seen, whether they were. restored: when a workaround brought the
    service back, before the lasting repair. parts: what it waited for, in order.
    """

    case: Annotated[str, Field(pattern=r"^[A-Za-z0-9][A-Za-z0-9._:-]*$", max_length=64)]
    opened: Moment
    closed: Moment
    symptom: Id
    said: Annotated[str, Field(max_length=4000)] | None = None
    unit: Annotated[str, Field(min_length=1, max_length=120)] | None = None
    ticket: Annotated[str, Field(min_length=1, max_length=120)] | None = None
    caller: Annotated[str, Field(min_length=1, max_length=120)] | None = None
    call_back: Annotated[str, Field(min_length=1, max_length=120)] | None = None
    facts: dict[Id, Annotated[str, Field(max_length=300)]] = {}
    playbook: Id | None = None
    edition: Annotated[int, Field(ge=1, le=1_000_000, strict=True)] | None = None
    edition_hash: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")] | None = None
    attempts: Annotated[tuple[Attempt, ...], Field(max_length=1000)] = ()
    baseline: Baseline | None = None
    waited: Minutes | None = None
    values: dict[str, str] = {}
    signs: dict[Line, Literal["yes", "no"]] = {}
    consents: tuple[Consent, ...] = ()
    parts: Annotated[tuple[AwaitedPart, ...], Field(max_length=100)] = ()
    passed: tuple[Passed, ...] = ()
    end: End
    sent_on: Id | None = None
    resolved_by: Annotated[str, Field(min_length=1, max_length=120)] | None = None
    confirmed: Confirmed | None = None
    restored: Moment | None = None
    came_back: Moment | None = None
    reopened_from: Annotated[str, Field(max_length=64)] | None = None
    notes: Annotated[str, Field(max_length=MOST_NOTES)] | None = None

    @model_validator(mode="after")
    def _hangs_together(self) -> "Case":
        if self.closed < self.opened:
            raise ValueError("closed stands before opened")
        if self.came_back is not None and self.came_back < self.closed:
            raise ValueError("came_back stands before closed")
        if self.resolved_by is not None:
            if not ENDS[self.end].is_cure:
                raise ValueError(f"resolved_by is given but the case ended {self.end}")
            if not any(a.step == self.resolved_by and a.outcome == "fixed" for a in self.attempts):
                raise ValueError(f"no attempt of resolved_by '{self.resolved_by}' has the outcome fixed")
        if self.sent_on is not None and self.end != "handed-off":
            raise ValueError(f"sent_on is given but the case ended {self.end}")
        if (self.playbook is None) != (self.edition is None):
            raise ValueError("playbook and edition go together")
        return self

    @property
    def site(self) -> str:
        """Where the unit stands, for tallies; empty when nobody said."""
        return self.facts.get("site", "")

    def minutes(self) -> float:
        """Minutes from opening to closing, the waiting for a watch, a part or an answer left out."""
        return max(0.0, minutes_between(self.opened, self.closed) - (self.waited or 0.0))


class CaseLine(NamedTuple):
    """A line of an export that is a case: its number from 1."""

    line: int
    case: Case


class RefusedLine(Shape):
    """A line of an export that is no case: its number from 1, where in it the trouble is, why, and how it begins."""

    line: int
    path: str
    says: str
    text: str


def minutes_between(start: datetime, end: datetime) -> float:
    """Minutes from start to end, never negative."""
    return max(0.0, (end - start).total_seconds() / 60)
