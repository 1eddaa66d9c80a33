"""The shapes of requests that are not core shapes: paths, queries, headers and the bodies of actions."""

from functools import cache
from typing import Annotated, Any, Literal, cast

from pydantic import Field
from werkzeug.http import parse_etags

from mildladder.core.model import Id, Line, Mode, Prose, Shape
from mildladder.core.model.edits import Key
from mildladder.core.model.events import Move, Started
from mildladder.desk.advice.side_by_side import AskTrial
from mildladder.desk.documents import Version, version_named
from mildladder.desk.evidence.symptom import EvidenceFilter
from mildladder.desk.evidence.teaching import Basis
from mildladder.desk.guiding.sheet import Ticked
from mildladder.desk.people import Role
from mildladder.desk.publishing.clashes import StepChoice

__all__ = [
    "BroughtIn",
    "CasePath",
    "CaseQuery",
    "CaseTotalQuery",
    "ClientsQuery",
    "ClimbPath",
    "CompareQuery",
    "EvidenceQuery",
    "FiguresQuery",
    "FileQuery",
    "FindSteps",
    "GoOn",
    "IfMatch",
    "JobPath",
    "JobQuery",
    "MergeSteps",
    "MonthQuery",
    "NameQuery",
    "NewPerson",
    "NewPlaybook",
    "NoticeCallPath",
    "NoticePath",
    "OrderQuery",
    "PicturePath",
    "PlaybookPath",
    "Publish",
    "PutFileQuery",
    "RecordMove",
    "RemarkPath",
    "RemarksQuery",
    "ReplayQuery",
    "RevisionQuery",
    "RungPath",
    "SetPerson",
    "SheetTicks",
    "SideBySideQuery",
    "SinceQuery",
    "StartClimb",
    "StepOfDraftPath",
    "StepPath",
]

_Key = Annotated[str, Field(pattern=r"^[A-Za-z0-9-]{8,64}$")]
_Version = Annotated[str, Field(pattern=r"^(draft|[0-9]{1,9})$")]


class _Asked(Shape):
    """A query or header. The framework asks for its schema at every request, and making one takes longer than most
    answers."""

    @classmethod
    def model_json_schema(cls, *how: Any, **more: Any) -> dict[str, Any]:
        """The schema; the plain one is made once."""
        return super().model_json_schema(*how, **more) if how or more else _plain_schema(cls)


@cache
def _plain_schema(asked: type[_Asked]) -> dict[str, Any]:
    return super(_Asked, asked).model_json_schema()


class JobPath(Shape):
    """A job, by number."""

    number: Annotated[int, Field(ge=1, le=2**53)]


class JobQuery(_Asked):
    """Jobs of which kind."""

    kind: str = "importing"


class BroughtIn(_Asked):
    """A file of cases. source: its name; leave_out: log what can be read, and list the lines that cannot."""

    source: Line
    leave_out: bool = False


class PlaybookPath(Shape):
    """A playbook, by id."""

    playbook_id: Id


class StepOfDraftPath(PlaybookPath):
    """A step of a draft, by its key in the working form."""

    key: Key


class FindSteps(_Asked):
    """The words of a line that somebody types. playbook: whose steps are left out."""

    text: Annotated[str, Field(max_length=300)]
    playbook: Id | None = None


class NudgePath(PlaybookPath):
    """A nudge of a playbook, by its key."""

    key: Annotated[str, Field(pattern=r"^[0-9a-f]{16}$")]


class NameQuery(Shape):
    """A name in the log."""

    name: Annotated[str, Field(min_length=1, max_length=120)]


class NoticePath(Shape):
    """A notice, by number."""

    number: Annotated[int, Field(ge=1, le=2**53)]


class NoticeCallPath(NoticePath):
    """A caller of a notice."""

    call_id: Annotated[str, Field(pattern=r"^[A-Za-z0-9-]{8,64}$")]


class RemarkPath(Shape):
    """A remark, by number."""

    number: Annotated[int, Field(ge=1, le=2**53)]


class RemarksQuery(_Asked):
    """Remarks on one playbook, or on all."""

    playbook: Id | None = None


class CasePath(Shape):
    """A logged case, by id."""

    case_id: Annotated[str, Field(pattern=r"^[A-Za-z0-9][A-Za-z0-9._:-]*$", max_length=64)]


class ClimbPath(Shape):
    """A guided case, by id."""

    climb_id: _Key


class IfMatch(_Asked):
    """The revisions that a write may change, as entity tags (RFC 9110, section 13.1.1): one or several, or `*` for
    whatever there is. A weak tag is no match, for a weak one may stand for another revision."""

    if_match: Annotated[str, Field(alias="If-Match", max_length=1000)]

    model_config = {"extra": "ignore"}

    def revision(self, current: int) -> int:
        """The current revision where it is among them, else the newest of them; 0 for none."""
        tags = parse_etags(self.if_match)
        named = [int(tag) for tag in tags.as_set() if tag.isascii() and tag.isdecimal() and len(tag) <= _MOST_DIGITS]
        return current if tags.star_tag or current in named else max(named, default=0)


_MOST_DIGITS = 9


class ClientsQuery(_Asked):
    """Clients whose next number is asked for, parted by commas."""

    clients: Annotated[str, Field(pattern=r"^([a-z0-9]{8,32}(,[a-z0-9]{8,32}){0,49})?$")] = ""

    @property
    def names(self) -> list[str]:
        """Each client."""
        return self.clients.split(",") if self.clients else []


class SinceQuery(_Asked):
    """What has come since which revision, for which client."""

    base: Annotated[int, Field(ge=0, le=2**31)]
    client: Annotated[str, Field(pattern=r"^([a-z0-9]{8,32})?$")] = ""


class RevisionQuery(_Asked):
    """Which revision is meant; without, the newest."""

    revision: Annotated[int | None, Field(ge=1, le=2**31)] = None


class BasisQuery(_Asked):
    """by: whether figures are by the lead's guesses, or by what the cases have taught where they have."""

    by: Basis = "judged"


class FiguresQuery(RevisionQuery, BasisQuery):
    """unit: facts of the sort of unit by which the ladder is looked at, each as ``fact:value``."""

    unit: Annotated[list[Annotated[str, Field(pattern=r"^[a-z0-9-]{1,64}:[^\n]{1,60}$")]], Field(max_length=20)] = []

    @property
    def facts(self) -> dict[str, str]:
        """The value of each fact."""
        return dict(one.split(":", 1) for one in self.unit)


_Month = Annotated[str, Field(pattern=r"^([0-9]{4}-[0-9]{2})?$")]


class EvidenceQuery(_Asked):
    """Which cases to look at. since, until: months of closing, both included; source: where they were logged; unit:
    what their units are, each as ``fact:value``."""

    since: _Month = ""
    until: _Month = ""
    edition: Annotated[int | None, Field(ge=1, le=1_000_000)] = None
    site: Annotated[str, Field(max_length=300)] = ""
    source: Literal["", "guided", "brought-in"] = ""
    unit: Annotated[list[Annotated[str, Field(pattern=r"^[a-z0-9-]{1,64}:[^\n]{1,300}$")]], Field(max_length=20)] = []

    def wanted(self) -> EvidenceFilter:
        """The filter that it asks for."""
        return EvidenceFilter(
            since=self.since or None,
            until=self.until or None,
            edition=self.edition,
            site=self.site or None,
            is_guided=None if not self.source else self.source == "guided",
            facts=dict(one.split(":", 1) for one in self.unit),
        )


class NewPlaybook(Shape):
    """A playbook that is to be made, by its title."""

    title: Line


class FileQuery(_Asked):
    """Which file of a playbook: the draft's, or the newest edition's."""

    of: Literal["draft", "edition"] = "edition"


class PutFileQuery(_Asked):
    """preview: only tell what would be. steps: what to do with steps that the library has with another text; step: the
    same for one of them, as ID=WAY, and several parted by commas."""

    preview: bool = False
    steps: StepChoice | None = None
    step: Annotated[str, Field(pattern=r"^([a-z0-9-]{1,64}=(library|file|copy),?){0,200}$")] = ""

    @property
    def each(self) -> dict[str, StepChoice]:
        """What to do with each step that is named."""
        pairs = (one.split("=", 1) for one in self.step.split(",") if one)
        return {step: cast(StepChoice, way) for step, way in pairs}


class RungPath(PlaybookPath):
    """A rung of a draft's main line, by index."""

    rung: Annotated[int, Field(ge=0, le=10_000)]


class OrderQuery(BasisQuery):
    """Another mode or exchange rate than the playbook's own."""

    mode: Mode | Literal[""] = ""
    rate: Annotated[float | None, Field(ge=0, le=1e6, allow_inf_nan=False)] = None


class CompareQuery(_Asked):
    """Two documents of a playbook: an edition by its number, or `draft`."""

    before: _Version
    after: _Version = "draft"


class MonthQuery(_Asked):
    """A month, as 2026-03."""

    month: Annotated[str, Field(pattern=r"^(19[7-9]\d|20\d\d|21\d\d)-(0[1-9]|1[0-2])$")] | None = None


class SideBySideQuery(_Asked):
    """Two editions of which one asks what a trial of them would take, and the difference that it is to find."""

    a: Annotated[int, Field(ge=1, le=1_000_000)] | None = None
    b: Annotated[int, Field(ge=1, le=1_000_000)] | None = None
    difference: Annotated[float, Field(gt=0, le=1e6, allow_inf_nan=False)] | None = None

    def asked(self) -> AskTrial | None:
        """What is asked; None where no two editions are named."""
        return AskTrial(a=self.a, b=self.b, difference=self.difference) if self.a and self.b else None


class ReplayQuery(_Asked):
    """The ladder that is replayed (`after`), and the one that it is held against, if any: an edition by its number, or
    `draft`."""

    before: _Version | None = None
    after: _Version = "draft"

    def versions(self) -> tuple[Version | None, Version]:
        """Before and after."""
        return version_named(self.before) if self.before is not None else None, version_named(self.after)


class Publish(Shape):
    """What changed and why, for the list of editions."""

    note: Prose


class StepPath(Shape):
    """A step of the library, by id."""

    step_id: Id


class MergeSteps(_Asked):
    """The step that another one counts as from now on."""

    into: Id


class CaseTotalQuery(_Asked):
    """Which cases to count."""

    symptom: Annotated[str, Field(max_length=64)] = ""
    step: Annotated[str, Field(max_length=120)] = ""
    end: Annotated[str, Field(max_length=20)] = ""
    words: Annotated[str, Field(max_length=200)] = ""


class CaseQuery(CaseTotalQuery):
    """Which cases to list. after: the `next` of the page before. rank: how many of those that fit stand above
    the page."""

    after: Annotated[str, Field(max_length=120)] = ""
    rank: Annotated[int, Field(ge=0, le=100_000_000)] = 0
    limit: Annotated[int, Field(ge=1, le=200)] = 100


class StartClimb(Shape):
    """A case to be guided. `id`: made by the browser, so that sending it twice opens one case."""

    id: _Key
    playbook: Id
    started: Started


class GoOn(Shape):
    """The case in which one goes on that was sent on. `id`: made by the browser, as when a case is started."""

    id: _Key


class PicturePath(Shape):
    """A kept picture, by the digest of its bytes."""

    digest: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]


class RecordMove(Shape):
    """One move of a guided case. `key`: makes sending it twice harmless; `after`: number of the event it follows."""

    key: _Key
    after: Annotated[int, Field(ge=0, le=1_000_000, strict=True)]
    move: Move


class SheetTicks(Shape):
    """What was ticked on the sheet of a guided case. `key`: makes sending it twice harmless; `after`: number of the
    last event of the case when the sheet was read."""

    key: Annotated[str, Field(pattern=r"^[A-Za-z0-9-]{8,50}$")]
    after: Annotated[int, Field(ge=0, le=1_000_000, strict=True)]
    ticks: Annotated[tuple[Ticked, ...], Field(min_length=1, max_length=500)]


class SetPerson(Shape):
    """Who sits at this browser."""

    person: Annotated[int, Field(ge=1, le=2**31, strict=True)]


class NewPerson(Shape):
    """Somebody new at the desk."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    role: Role
