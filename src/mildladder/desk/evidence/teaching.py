"""What the cases have taught, at hand for a draft that is looked at: figures and orders by it, without any wait."""

import json
from typing import Any, Literal

from sqlalchemy.orm import Session

from mildladder.core.errors import NotFound
from mildladder.core.evidence.learnable import learnable
from mildladder.core.evidence.lesson import Lesson, Teaching
from mildladder.desk.documents import document
from mildladder.desk.evidence.symptom import EvidenceFilter
from mildladder.desk.settings import return_window
from mildladder.store import jobs as kept_jobs
from mildladder.store.cache import Needs, cached
from mildladder.store.documents import document_of
from mildladder.store.drafts import revision
from mildladder.store.editions import newest_number
from mildladder.store.moments import as_stored
from mildladder.store.tables import JobRow

__all__ = ["Basis", "alike", "teaching_by", "teaching_of"]

Basis = Literal["judged", "cases"]


def alike(edition: int | None, case_filter: EvidenceFilter, window: int) -> dict[str, Any]:
    """What an older estimate has to have been asked for the same as, for it to be one of the same question."""
    return {"ask": "estimating", "edition": edition, "filter": case_filter.model_dump(mode="json"), "window": window}


def teaching_of(session: Session, playbook_id: str) -> Teaching | None:
    """By the newest estimate of all cases; None while there is none, or too few cases say."""
    asked = alike(newest_number(session, playbook_id), EvidenceFilter(), return_window(session))
    number = kept_jobs.last_done(session, "estimating", playbook_id, asked)
    return None if number is None else _by(session, playbook_id, kept_jobs.job(session, number))


def teaching_by(session: Session, playbook_id: str, name: str) -> Teaching | None:
    """By the estimate of that name; None where too few cases say. Raises NotFound for one that is not kept."""
    row = kept_jobs.job(session, int(name.partition("-")[0]))
    if _name_of(row) != name:
        raise NotFound("that estimate is kept no longer")
    return _by(session, playbook_id, row)


def _name_of(row: JobRow) -> str:
    """What was asked and when it was answered besides the number of the job, which alone would tell two databases
    apart no more than two drafts of one."""
    ended = as_stored(row.ended) if row.ended else ""
    return f"{row.number}-{row.digest[:16]}-{ended}"


def _by(session: Session, playbook_id: str, row: JobRow) -> Teaching | None:
    name, edition, number = _name_of(row), row.input["edition"], row.input["revision"]
    needs = Needs(
        draft=None if edition else (playbook_id, number),
        editions=((playbook_id, edition),) if edition else (),
        asked=name,
    )
    return cached(session, "teaching", needs, lambda: _read(session, playbook_id, name, row))


def _read(session: Session, playbook_id: str, name: str, row: JobRow) -> Teaching | None:
    told = json.loads(row.result or "{}").get("lesson")
    if told is None:
        return None
    edition = row.input["edition"]
    of = document(session, playbook_id, edition) if edition else None
    playbook = of or document_of(revision(session, playbook_id, row.input["revision"])).playbook
    return Teaching(name, learnable(playbook), Lesson.model_validate(told))
