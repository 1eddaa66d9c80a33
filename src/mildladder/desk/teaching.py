"""What the cases have taught, at hand for a draft that is looked at: figures and orders by it, without any wait."""

import json
from typing import Literal

from sqlalchemy.orm import Session

from mildladder.core.evidence.learnable import learnable
from mildladder.core.evidence.lesson import Lesson, Teaching
from mildladder.desk.editions import Version, document
from mildladder.desk.evidence import EvidenceFilter
from mildladder.desk.settings import return_window
from mildladder.store import jobs as kept_jobs
from mildladder.store.editions import newest_number
from mildladder.store.kept import kept

__all__ = ["ALIKE", "Basis", "teaching_by", "teaching_of"]

Basis = Literal["judged", "cases"]
# What has to be the same for an older estimate to be one of the same question.
ALIKE = ("edition", "filter", "window")


def teaching_of(session: Session, playbook_id: str) -> Teaching | None:
    """By the newest estimate of all cases; None while there is none, or too few cases say."""
    asked = {
        "edition": newest_number(session, playbook_id), "filter": EvidenceFilter().model_dump(mode="json"),
        "window": return_window(session),
    }  # fmt: skip
    number = kept_jobs.last_done(session, "estimating", playbook_id, asked, ALIKE)
    return None if number is None else teaching_by(session, playbook_id, number)


def teaching_by(session: Session, playbook_id: str, number: int) -> Teaching | None:
    """By the estimate that a job made; None where too few cases say. Raises NotFound for one that is not kept."""
    return kept(session, ("teaching", playbook_id, number), lambda: _read(session, playbook_id, number))


def _read(session: Session, playbook_id: str, number: int) -> Teaching | None:
    row = kept_jobs.job(session, number)
    told = json.loads(row.result or "{}").get("lesson")
    if told is None:
        return None
    version: Version = row.input["edition"] or "draft"
    return Teaching(number, learnable(document(session, playbook_id, version)), Lesson.model_validate(told))
