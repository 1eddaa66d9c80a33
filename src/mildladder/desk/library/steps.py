"""The shared library of steps: where each is used, newer texts that wait for a draft, and merging two steps."""

from datetime import datetime

from sqlalchemy.orm import Session

from mildladder.core.errors import Conflict, NotFound
from mildladder.core.model import Shape, StepKind
from mildladder.desk.library.recounting import count_step_anew
from mildladder.desk.people import check_lead
from mildladder.store import drafts
from mildladder.store import library as store
from mildladder.store.documents import document_of
from mildladder.store.log.recount import cases_naming
from mildladder.store.tables import LibraryStepRow

__all__ = ["LibraryStep", "MergePreview", "library_steps", "merge_steps", "preview_merge", "undo_merge"]


class LibraryStep(Shape):
    """One step of the library in its newest version. aliases: ids of steps that were merged into it."""

    id: str
    title: str
    kind: StepKind
    version: int
    who: str
    at: datetime
    used_in: tuple[str, ...]
    aliases: tuple[str, ...]


def library_steps(session: Session) -> list[LibraryStep]:
    """Every step, by title."""
    used = drafts.uses(session)
    aliases = store.aliases(session)
    steps = [
        LibraryStep(
            id=row.step_id,
            title=row.shared["title"],
            kind=row.shared["kind"],
            version=row.version,
            who=row.person.name,
            at=row.at,
            used_in=tuple(sorted(used.get(row.step_id, ()))),
            aliases=tuple(sorted(old for old, new in aliases.items() if new == row.step_id)),
        )
        for row in store.newest_library_steps(session)
        if row.step_id not in aliases
    ]
    return sorted(steps, key=lambda step: step.title)


class SymptomCases(Shape):
    """So many cases of a symptom."""

    title: str
    cases: int


class MergePreview(Shape):
    """What a merge would change: how many cases of each symptom name the step, by the symptom's title."""

    title: str
    into: str
    cases: int
    symptoms: tuple[SymptomCases, ...]


def preview_merge(session: Session, old: str, new: str) -> MergePreview:
    """What `merge_steps` would do, without doing it. Raises as it does."""
    steps = _mergeable(session, old, new)
    titles = {
        playbook_id: document_of(drafts.newest_revision(session, playbook_id)).playbook.title
        for playbook_id in drafts.playbook_ids(session)
    }
    found = cases_naming(session, old)
    return MergePreview(
        title=steps[old].shared["title"],
        into=steps[new].shared["title"],
        cases=sum(found.values()),
        symptoms=tuple(
            SymptomCases(title=titles.get(symptom, symptom), cases=cases) for symptom, cases in sorted(found.items())
        ),
    )


def merge_steps(session: Session, old: str, new: str, who: int, now: datetime) -> list[str]:
    """Count the step `old` as `new` from now on: an alias, and every tally anew. Editions and cases stay as they are.

    The symptoms whose counts changed. Raises NotFound for an id that the library lacks, Conflict for a step that is
    merged already, with itself, or of another kind, and NotTheirs for anybody but a lead.
    """
    check_lead(session, who)
    _mergeable(session, old, new)
    store.add_alias(session, old, new, who, now)
    return count_step_anew(session, old, who, now)


def undo_merge(session: Session, old: str, who: int, now: datetime) -> list[str]:
    """Count the step `old` as itself again; the symptoms whose counts changed. Raises NotFound for one that is not
    merged, and NotTheirs for anybody but a lead."""
    check_lead(session, who)
    return count_step_anew(session, store.drop_alias(session, old), who, now)


def _mergeable(session: Session, old: str, new: str) -> dict[str, LibraryStepRow]:
    steps = {}
    for name in (old, new):
        row = store.library_step(session, name)
        if row is None:
            raise NotFound(f"the library has no step '{name}'")
        steps[name] = row
    known = store.aliases(session)
    if old == new or old in known:
        raise Conflict(f"'{old}' cannot be merged into '{new}': it is merged already, or they are the same")
    if steps[old].shared["kind"] != steps[new].shared["kind"]:
        raise Conflict(f"'{old}' and '{new}' are of different kinds; they are not the same step")
    return steps
