"""Find steps of the library for a line that somebody types."""

from collections.abc import Mapping, Sequence
from datetime import date

from sqlalchemy.orm import Session

from mildladder.core.evidence.rates import StepEvidence, count_steps
from mildladder.core.model import Shape, StepKind
from mildladder.desk.settings import return_window
from mildladder.desk.titles import titles_of
from mildladder.store import library
from mildladder.store.drafts import newest_revision, uses
from mildladder.store.log import reading

__all__ = ["FoundSteps", "find_steps"]

_MOST_FOUND = 5
_MOST_SHOWN = 5


class Doing(Shape):
    """How a step does in one playbook, called by its title: so often tried, so often resolved."""

    title: str
    tried: int
    resolved: int


class FoundStep(Shape):
    """A step of the library that a typed line may mean. also: the name by which it was found, if that is another."""

    id: str
    title: str
    kind: StepKind
    also: str | None
    used_in: tuple[Doing, ...]


class FoundSteps(Shape):
    """Steps of the library, those that begin with the words first."""

    steps: tuple[FoundStep, ...]


def find_steps(session: Session, text: str, but: str | None, today: date) -> FoundSteps:
    """Steps of the library in whose title, or another name, every word of the text stands.

    but: the playbook for which one is looked for: what it has already is left out.
    """
    words = text.casefold().split()
    if not words:
        return FoundSteps(steps=())
    used = uses(session)
    into = library.aliases(session)
    rows = {row.step_id: row for row in library.newest_library_steps(session)}
    ranked: list[tuple[bool, int, str, str | None]] = []
    seen: set[str] = set()
    for row in rows.values():
        step = into.get(row.step_id, row.step_id)
        title = str(row.shared["title"])
        if step in rows and step not in seen and but not in used.get(step, ()) and _has_words(title, words):
            seen.add(step)
            begins = title.casefold().startswith(text.strip().casefold())
            ranked.append((not begins, -len(used.get(step, ())), step, title if step != row.step_id else None))
    best = sorted(ranked)[:_MOST_FOUND]
    doing = _Doing(session, today)
    return FoundSteps(
        steps=tuple(
            FoundStep(
                id=step,
                title=rows[step].shared["title"],
                kind=rows[step].shared["kind"],
                also=also,
                used_in=tuple(doing.of(step, playbook) for playbook in sorted(used.get(step, ()))[:_MOST_SHOWN]),
            )
            for _, _, step, also in best
        )
    )


def _has_words(title: str, words: Sequence[str]) -> bool:
    plain_title = title.casefold()
    return all(word in plain_title for word in words)


class _Doing:
    """How steps do, from the tallies of each symptom."""

    def __init__(self, session: Session, today: date) -> None:
        self.session, self.today, self.window = session, today, return_window(session)

    def of(self, step: str, playbook_id: str) -> Doing:
        counts: Mapping[str, StepEvidence] = reading.of_version(
            self.session,
            playbook_id,
            ("steps", self.today, self.window),
            lambda: count_steps(reading.tallies(self.session, playbook_id), self.today, self.window),
        )
        found = counts.get(step)
        return Doing(
            title=titles_of(self.session, playbook_id, newest_revision(self.session, playbook_id).number).playbook,
            tried=found.tried if found else 0,
            resolved=found.resolved if found else 0,
        )
