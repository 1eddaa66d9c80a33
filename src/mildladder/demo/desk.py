"""Fill an empty database with the made-up desk: people, published playbooks, logged cases, one draft under way."""

from collections.abc import Iterator
from datetime import datetime, timedelta
from importlib import resources
from tempfile import TemporaryFile
from typing import IO

import numpy as np
from sqlalchemy.orm import Session

from mildladder.core.ladder.moves import reordered
from mildladder.core.model import Case, Playbook
from mildladder.demo.elsewhere import EXPORT, export
from mildladder.demo.simulate import PERIOD, Simulated, simulate
from mildladder.demo.truth import TRUTHS
from mildladder.desk.drafts.drafting import become
from mildladder.desk.log.intake import CasesImported, import_cases
from mildladder.desk.people import Role, add_person, everybody, named
from mildladder.desk.publishing.files import import_playbook
from mildladder.exchange.case_lines import read_each
from mildladder.exchange.playbook_file import read_playbook
from mildladder.store.documents import document_of
from mildladder.store.drafts import newest_revision

__all__ = ["CASES", "LEAD", "UNPUBLISHED", "earlier", "fill", "is_empty", "playbooks"]

CASES = 6000
ELSEWHERE = 0.12
LEAD = "R. Tamsin"
PEOPLE: tuple[tuple[str, Role], ...] = (
    ("I. Vell", "agent"),
    ("O. Marsk", "agent"),
    ("D. Quill", "agent"),
    ("S. Harbin", "technician"),
)
UNPUBLISHED = frozenset({"lane-scale-wrong"})
_SEED = 20
_IMPROVED = timedelta(days=180)


def playbooks() -> Iterator[Playbook]:
    """The desk's twelve playbooks as they stand now, read from the files that ship with the product."""
    yield from _read("playbooks")


def earlier() -> dict[str, Playbook]:
    """First editions of those that have been improved since, by id."""
    return {playbook.id: playbook for playbook in _read("earlier")}


def _read(folder: str) -> Iterator[Playbook]:
    files = resources.files("mildladder.demo").joinpath(folder)
    for file in sorted(files.iterdir(), key=lambda file: file.name):
        yield read_playbook(file.read_bytes(), file.name)


def is_empty(session: Session) -> bool:
    """Whether nobody works at this desk yet."""
    return not everybody(session)


def fill(session: Session, count: int, now: datetime) -> CasesImported:
    """Make the desk as it stands at `now`, with `count` cases behind it; only dates differ between runs.

    What was logged, the harbour office's export included, and what of that could not be read.
    """
    began = now - PERIOD - timedelta(days=7)
    lead = add_person(session, LEAD, "lead", None, began).id
    for name, role in PEOPLE:
        add_person(session, name, role, lead, began)
    known, first = {playbook.id: playbook for playbook in playbooks()}, earlier()
    improved = now.replace(hour=0, minute=0, second=0, microsecond=0) - _IMPROVED
    for name, playbook in known.items():
        note = None if name in UNPUBLISHED else "First edition, from the desk's own notes"
        import_playbook(session, first.get(name, playbook), lead, began, None, note)
    for name in first:
        note = "The pad is woken before anything is restarted, and one look tells the pad from the kiosk"
        import_playbook(session, known[name], lead, improved, None, note)

    def followed(name: str, at: datetime) -> tuple[Playbook, int | None]:
        if name in UNPUBLISHED:
            return known[name], None
        if name not in first:
            return known[name], 1
        return (first[name], 1) if at < improved else (known[name], 2)

    made = simulate(known, TRUTHS, count, now, _SEED, followed, ELSEWHERE)
    with TemporaryFile() as file:
        guided = import_cases(session, _aside(made, file), "demo", named(session, "demo", began), now)
        file.seek(0)
        office = import_cases(session, read_each(file), "import", lead, now, EXPORT, leave_out=True)
    _leave_a_draft_under_way(session, lead, now - timedelta(hours=20))
    return CasesImported(
        read=guided.read + office.read,
        new=guided.new + office.new,
        updated=guided.updated + office.updated,
        unchanged=guided.unchanged + office.unchanged,
        refused=office.refused,
        reasons=office.reasons,
    )


def _aside(made: Iterator[Simulated], file: IO[bytes]) -> Iterator[Case]:
    """The guided cases; those of the harbour office go into its export, some of them damaged on the way."""
    rng = np.random.default_rng(_SEED)
    for one in made:
        if one.is_elsewhere:
            file.writelines(export([one.case], rng))
        else:
            yield one.case


def _leave_a_draft_under_way(session: Session, lead: int, at: datetime) -> None:
    """Clearing the queue has come up, with the look at it that it must follow."""
    document = document_of(newest_revision(session, "counter-no-labels"))
    playbook = document.playbook
    steps = [rung.step for rung in playbook.ladder]
    pair = [steps.index("list-queued-labels"), steps.index("empty-label-queue")]
    rest = [number for number in range(len(steps)) if number not in pair]
    moved = document.model_copy(update={"playbook": reordered(playbook, [rest[0], *pair, *rest[1:]])})
    become(session, moved, None, lead, at)
