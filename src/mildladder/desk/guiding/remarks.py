"""An agent's word to the lead that a text is wrong, kept with the text and edition that it was said of."""

from collections import defaultdict
from datetime import datetime, timedelta
from typing import Annotated

from pydantic import Field
from sqlalchemy.orm import Session

from mildladder.core.errors import NotFound
from mildladder.core.model import Id, Shape
from mildladder.desk.documents import document
from mildladder.store import notices as store
from mildladder.store.climbs import off_ladder_since
from mildladder.store.documents import document_of
from mildladder.store.editions import newest_edition
from mildladder.store.tables import RemarkRow

__all__ = ["NewRemark", "Remarks", "remark", "remarks", "settle"]


class Remark(Shape):
    """What somebody says of a text. `text`: as it was shown then; title: of its step."""

    number: int
    playbook: str
    playbook_title: str
    edition: int
    step: str
    title: str
    text: str
    says: str
    at: datetime
    who: str


class OffLadderDone(Shape):
    """Something that agents did though no rung asks for it: how often of late, and how often it ended the fault."""

    playbook: str
    playbook_title: str
    called: str
    times: int
    fixed: int


class Remarks(Shape):
    """Those that nobody has seen to yet, the newest first; off_ladder: what was done in the last 60 days that no rung
    asks for, the most often done first."""

    remarks: tuple[Remark, ...]
    off_ladder: tuple[OffLadderDone, ...]


def remarks(session: Session, now: datetime, playbook: str | None = None) -> Remarks:
    """What is open, of one playbook or of all."""
    return Remarks(
        remarks=tuple(_shown(session, row) for row in store.open_remarks(session, playbook)),
        off_ladder=tuple(_off_ladder(session, now, playbook)),
    )


_OFF_LADDER_DAYS = 60


def _off_ladder(session: Session, now: datetime, playbook: str | None) -> list[OffLadderDone]:
    done: dict[tuple[str, str], list[str]] = defaultdict(list)
    for of, move, _ in off_ladder_since(session, now - timedelta(days=_OFF_LADDER_DAYS)):
        if playbook in (None, of):
            done[of, move.called].append(move.outcome)
    found = [
        OffLadderDone(
            playbook=of,
            playbook_title=_title(session, of),
            called=called,
            times=len(outcomes),
            fixed=outcomes.count("fixed"),
        )
        for (of, called), outcomes in done.items()
    ]
    return sorted(found, key=lambda one: (-one.times, one.called))


def _title(session: Session, playbook_id: str) -> str:
    edition = newest_edition(session, playbook_id)
    return document_of(edition).playbook.title if edition else playbook_id


def _shown(session: Session, row: RemarkRow) -> Remark:
    playbook = document(session, row.playbook_id, row.edition)
    return Remark(
        number=row.number,
        playbook=row.playbook_id,
        playbook_title=playbook.title,
        edition=row.edition,
        step=row.step,
        title=playbook.step(row.step).title,
        text=row.text,
        says=row.says,
        at=row.at,
        who=row.person.name,
    )


class NewRemark(Shape):
    """A remark as it comes in, with a key that makes sending it twice harmless."""

    key: Annotated[str, Field(pattern=r"^[A-Za-z0-9-]{8,64}$")]
    playbook: Id
    edition: Annotated[int, Field(ge=1, le=1_000_000)]
    step: Id
    text: Annotated[str, Field(max_length=4000)] = ""
    says: Annotated[str, Field(min_length=1, max_length=1000)]


def remark(session: Session, said: NewRemark, who: int, now: datetime) -> None:
    """Keep it. Raises NotFound for a step that the edition does not have. The same key again changes nothing."""
    if store.remark_by_key(session, said.key) is not None:
        return
    playbook = document(session, said.playbook, said.edition)
    if all(step.id != said.step for step in playbook.steps):
        raise NotFound(f"edition {said.edition} has no step '{said.step}'")
    row = RemarkRow(
        key=said.key,
        playbook_id=said.playbook,
        edition=said.edition,
        step=said.step,
        text=said.text,
        says=said.says,
        at=now,
        settled=None,
        who=who,
    )
    session.add(row)
    session.flush()


def settle(session: Session, number: int, now: datetime) -> None:
    """The lead has seen to it. Raises NotFound."""
    row = store.remark_row(session, number)
    row.settled = row.settled or now
