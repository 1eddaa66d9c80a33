"""Whether cases that were brought in say anything of what is estimated: where other systems leave out what was tried in
vain, a lead keeps them out of it. They stay in the log, and in every count."""

from dataclasses import replace
from datetime import datetime

from sqlalchemy.orm import Session

from mildladder.core.model import Shape
from mildladder.desk.people import check_lead
from mildladder.store.drafts import newest_revision
from mildladder.store.log import reading as store
from mildladder.store.log.tallies import outdate
from mildladder.store.settings import keep_setting, setting

__all__ = ["BroughtInCases", "brought_in", "exclude_cases", "informative", "kept_out"]


class BroughtInCases(Shape):
    """Whether the cases of a symptom that were brought in are kept out of what is estimated."""

    is_kept_out: bool


def exclude_cases(session: Session, playbook_id: str, said: BroughtInCases, who: int, now: datetime) -> None:
    """From now on they are, or are not; what was estimated before is worked out anew. Raises NotFound, and NotTheirs
    for anybody but a lead."""
    check_lead(session, who)
    newest_revision(session, playbook_id)
    if _is_kept_out(session, playbook_id) != said.is_kept_out:
        keep_setting(session, _name(playbook_id), "yes" if said.is_kept_out else "no", who, now)
        outdate(session, playbook_id)


def kept_out(session: Session, playbook_id: str) -> int | None:
    """How many cases are kept out; None where none are to be."""
    return brought_in(session, playbook_id) if _is_kept_out(session, playbook_id) else None


def brought_in(session: Session, playbook_id: str) -> int:
    """How many cases of a symptom were brought in."""
    return store.filtered_cases(session, playbook_id, store.Filter(is_guided=False))


def informative(session: Session, playbook_id: str, part: store.Filter = store.EVERYTHING) -> store.Filter:
    """Those of a part of the cases that say something of what is estimated. A part that names an origin is looked at
    for its own sake."""
    if part.is_guided is None and _is_kept_out(session, playbook_id):
        return replace(part, is_guided=True)
    return part


def _is_kept_out(session: Session, playbook_id: str) -> bool:
    return setting(session, _name(playbook_id)) == "yes"


def _name(playbook_id: str) -> str:
    return f"brought-in cases kept out of {playbook_id}"
