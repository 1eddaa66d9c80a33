"""Fill an empty database with the made-up desk: people, published playbooks, logged cases, one draft under way."""

from collections.abc import Iterator
from datetime import datetime, timedelta
from importlib import resources

from sqlalchemy.orm import Session

from mildladder.core.model import Case, Playbook
from mildladder.demo.simulate import PERIOD, simulate
from mildladder.demo.truth import TRUTHS
from mildladder.desk.drafts import draft, move
from mildladder.desk.importing import CasesImported, import_cases, import_playbook
from mildladder.desk.people import add_person, everybody
from mildladder.exchange.playbook_file import read_playbook

__all__ = ["CASES", "LEAD", "PEOPLE", "fill", "is_empty", "playbooks"]

CASES = 600
LEAD = "R. Tamsin"
PEOPLE = (
    (LEAD, "lead"),
    ("I. Vell", "agent"),
    ("O. Marsk", "agent"),
    ("D. Quill", "agent"),
    ("S. Harbin", "technician"),
)
_SEED = 20


def playbooks() -> Iterator[Playbook]:
    """The desk's playbooks, read from the files that ship with the product."""
    folder = resources.files("mildladder.demo").joinpath("playbooks")
    for file in sorted(folder.iterdir(), key=lambda file: file.name):
        yield read_playbook(file.read_bytes(), file.name)


def is_empty(session: Session) -> bool:
    """Whether nobody works at this desk yet."""
    return not everybody(session)


def fill(session: Session, count: int, now: datetime) -> CasesImported:
    """Make the desk as it stands at `now`, with `count` cases behind it; only dates differ between runs."""
    began = now - PERIOD - timedelta(days=7)
    for name, role in PEOPLE:
        add_person(session, name, role, began)
    known = {playbook.id: playbook for playbook in playbooks()}
    for playbook in known.values():
        import_playbook(session, playbook, LEAD, began, None, "First edition, from the desk's own notes")
    counts = import_cases(session, _cases(known, count, now), "demo", "demo", now)
    _leave_a_draft_under_way(session, now - timedelta(hours=20))
    return counts


def _cases(known: dict[str, Playbook], count: int, now: datetime) -> Iterator[Case]:
    return (case for case, _ in simulate(known, TRUTHS, count, now, _SEED))


def _leave_a_draft_under_way(session: Session, at: datetime) -> None:
    view = draft(session, "counter-no-labels")
    source = next(n for n, rung in enumerate(view.playbook.ladder) if rung.step == "empty-label-queue")
    move(session, "counter-no-labels", source, source - 2, True, view.revision, LEAD, at)
