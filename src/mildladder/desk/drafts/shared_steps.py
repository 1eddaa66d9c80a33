"""What a lead does with steps that playbooks share: put one in, see who else uses it, change it for all."""

from collections.abc import Iterator, Mapping
from datetime import datetime
from typing import NamedTuple

from sqlalchemy.orm import Session

from mildladder.core.draft.apply import Operation
from mildladder.core.draft.difference import difference
from mildladder.core.draft.form import id_of
from mildladder.core.errors import BadInput, Conflict, NotFound, Unavailable
from mildladder.core.figures.forecast import Forecast, forecast
from mildladder.core.ladder.halves import shared_half, with_shared_half
from mildladder.core.ladder.soundness import check
from mildladder.core.ladder.wants import facts_wanted, pictures_wanted, steps_wanted
from mildladder.core.model import Document, Fact, Playbook, Shape, Step
from mildladder.core.model.sending import Everywhere, PutIn
from mildladder.desk.drafts.drafting import new_key, plain
from mildladder.store import drafts, library
from mildladder.store.cache import Needs, cached
from mildladder.store.documents import document_of, sound_of
from mildladder.store.tables import LibraryStepRow

__all__ = ["SharedStep", "WouldBecome", "everywhere", "insert_shared_step", "share_new", "shared_step", "would_become"]

_MOST_SHOWN = 20

# Taking one


def insert_shared_step(session: Session, playbook_id: str, deed: PutIn) -> list[Operation]:
    """What puts a step of the library onto a new rung, with the steps, facts and pictures that it names and the draft
    lacks. Raises NotFound for a step that the library has not, Conflict where the draft has another one of that id."""
    number = drafts.newest_revision(session, playbook_id).number
    root = drafts.form_at(session, playbook_id, number)
    sound = sound_of(session, playbook_id, number)
    document = sound.document
    if document is None:
        raise Conflict("mend what is wrong with the playbook itself first; it is told where it stands")
    row = library.library_step(session, deed.step)
    if row is None:
        raise NotFound(f"the library has no step '{deed.step}'")
    rung: Operation = {
        "op": "insert",
        "parent": deed.parent,
        "list": list(deed.list),
        "after": deed.after,
        "before": None,
        "item": {"key": deed.rung, "step": deed.step},
    }
    there = next((step for step in document.playbook.steps if step.id == deed.step), None)
    if there is not None:
        if document.origins.get(deed.step, ("",))[0] != deed.step:
            raise Conflict(f"this playbook has another step that files call '{deed.step}'")
        return [rung]
    if any(id_of(step) == deed.step and not step.get("out") for step in root.get("steps", ())):
        raise Conflict("this playbook has the step, and something is wrong in it; mend that first")
    taken = _with_library(session, document, row)
    return [*difference(sound.root, plain(taken), new_key), rung]


def _with_library(session: Session, document: Document, row: LibraryStepRow) -> Document:
    """The document with the library's step, and with what that names and nobody here has."""
    playbook = document.playbook
    new = {one.step_id: one for one in _wanted(session, row, {step.id for step in playbook.steps})}
    steps = [_told_apart(Step.model_validate(one.shared)) for one in new.values()]
    known = {fact.id for fact in playbook.facts}
    facts = library.facts(session)
    wanted = dict.fromkeys(name for step in steps for name in facts_wanted(step) if name in facts)
    pictures = dict(document.pictures)
    for step in steps:
        pictures |= _pictures(session, step, pictures)
    placed = playbook.model_copy(
        update={
            "steps": (*playbook.steps, *steps),
            "facts": (*playbook.facts, *(_fact(facts[name]) for name in wanted if name not in known)),
        }
    )
    origins = {**document.origins, **{step: (step, one.version) for step, one in new.items()}}
    return document.model_copy(update={"playbook": placed, "origins": origins, "pictures": pictures})


def _told_apart(step: Step) -> Step:
    """What it finds hangs on this playbook's causes, of which nobody has said anything yet: each as likely as any."""
    given = {"*": round(1 / max(1, len(step.findings)), 6)}
    return step.model_copy(update={"findings": tuple(one.model_copy(update={"given": given}) for one in step.findings)})


def _wanted(session: Session, row: LibraryStepRow, known: set[str]) -> Iterator[LibraryStepRow]:
    """The step, and those of the library that it names, each once."""
    waiting, seen = [row], {*known, row.step_id}
    while waiting:
        one = waiting.pop(0)
        yield one
        for name in steps_wanted(Step.model_validate(one.shared)):
            named = library.library_step(session, name) if name not in seen else None
            seen.add(name)
            if named is not None:
                waiting.append(named)


def _pictures(session: Session, step: Step, known: Mapping[str, str]) -> dict[str, str]:
    """Digests by path of what a step shows, from a playbook that has it. Raises Conflict where the draft has another
    picture of that name."""
    found: dict[str, str] = {}
    wanted = pictures_wanted(step)
    for playbook_id in drafts.playbooks_using(session, step.id) if wanted else ():
        theirs = document_of(drafts.newest_revision(session, playbook_id)).pictures
        found |= {path: theirs[path] for path in wanted if path in theirs and path not in found}
    for path, digest in found.items():
        if known.get(path, digest) != digest:
            raise Conflict(f"this playbook has another picture '{path}'; give that another name first")
    return found


def _fact(known: library.KnownFact) -> Fact:
    """A fact as a playbook that has none of it begins with it: nobody has said how common its values are."""
    values = {value: round(1 / len(known.choices), 6) for value in known.choices}
    if values:
        last = known.choices[-1]
        values[last] = round(1 - sum(share for value, share in values.items() if value != last), 6)
    said = {"id": known.id, "type": known.type, "ask": known.ask}
    return Fact.model_validate({**said, "choices": values} if values else said)


def _title(session: Session, playbook_id: str) -> str:
    return document_of(drafts.newest_revision(session, playbook_id)).playbook.title


# Changing one


class SharedStep(Shape):
    """A step of a draft beside the library's: its version there, by whom and when it was written; whether the draft
    says the same; the titles of the other playbooks that use it; `more`: how many are not named."""

    version: int
    who: str
    at: datetime
    is_alike: bool
    used_in: tuple[str, ...]
    more: int


class _Mine(NamedTuple):
    """A step of a draft, the version that it came with, and the library's newest."""

    step: Step
    version: int
    row: LibraryStepRow


def shared_step(session: Session, playbook_id: str, key: str) -> SharedStep | None:
    """A step of the draft, by its key, beside the library's; None for one that the library does not have. Raises
    NotFound."""
    mine = _mine(session, playbook_id, key)
    if mine is None:
        return None
    newest = mine.row
    others = [one for one in drafts.playbooks_using(session, mine.row.step_id) if one != playbook_id]
    return SharedStep(
        version=newest.version,
        who=newest.person.name,
        at=newest.at,
        is_alike=_says_the_same(mine.step, newest),
        used_in=tuple(sorted(_title(session, one) for one in others[:_MOST_SHOWN])),
        more=max(0, len(others) - _MOST_SHOWN),
    )


def _mine(session: Session, playbook_id: str, key: str) -> _Mine | None:
    """A step of a draft with the library's newest; None where the library does not have it. Raises NotFound."""
    number = drafts.newest_revision(session, playbook_id).number
    tree = drafts.tree_at(session, playbook_id, number)
    item = tree.items.get(key)
    if item is None or not tree.is_shown(key):
        raise NotFound("this draft has no such step any more")
    origin = item.get("origin")
    row = library.library_step(session, origin["step"]) if origin else None
    document = sound_of(session, playbook_id, number).document
    steps = document.playbook.steps if document is not None else ()
    step = next((one for one in steps if one.id == id_of(item)), None)
    return _Mine(step, origin["version"], row) if origin and step is not None and row is not None else None


def _says_the_same(step: Step, row: LibraryStepRow) -> bool:
    return {**shared_half(step), "id": ""} == {**shared_half(Step.model_validate(row.shared)), "id": ""}


class Totals(Shape):
    """What is expected of a playbook in a case: effort minutes, harm points, share resolved."""

    effort: float
    harm: float
    resolved: float


class Becoming(Shape):
    """What another playbook's figures are, and would become with the text of this draft; wrong: why they cannot."""

    title: str
    now: Totals | None
    then: Totals | None
    wrong: str | None


class WouldBecome(Shape):
    """What would come of a step's text if it were everybody's."""

    playbooks: tuple[Becoming, ...]
    more: int


def would_become(session: Session, playbook_id: str, key: str) -> WouldBecome:
    """What the figures of the other playbooks that use a step would become with this draft's text of it. Raises
    NotFound."""
    mine = _mine(session, playbook_id, key)
    if mine is None:
        return WouldBecome(playbooks=(), more=0)
    others = [one for one in drafts.playbooks_using(session, mine.row.step_id) if one != playbook_id]
    shared = shared_half(mine.step)
    found = [_becoming(session, one, mine.row.step_id, shared) for one in others[:_MOST_SHOWN]]
    return WouldBecome(
        playbooks=tuple(sorted(found, key=lambda one: one.title)), more=max(0, len(others) - _MOST_SHOWN)
    )


def _becoming(session: Session, playbook_id: str, origin: str, shared: dict[str, object]) -> Becoming:
    row = drafts.newest_revision(session, playbook_id)
    document = document_of(row)
    steps = tuple(
        with_shared_half(step, {**shared, "id": step.id}) if document.origins.get(step.id, ("",))[0] == origin else step
        for step in document.playbook.steps
    )
    try:
        playbook = check(document.playbook.model_copy(update={"steps": steps}))
        then = _totals(forecast(playbook))
    except (BadInput, Unavailable) as error:
        return Becoming(title=document.playbook.title, now=None, then=None, wrong=str(error))
    needs = Needs(draft=(playbook_id, row.number), asked=())
    now = cached(session, "figures", needs, lambda: forecast(document.playbook))
    return Becoming(title=document.playbook.title, now=_totals(now), then=then, wrong=None)


def _totals(figures: Forecast) -> Totals:
    return Totals(effort=figures.effort, harm=figures.harm, resolved=figures.resolved)


def everywhere(session: Session, playbook_id: str, deed: Everywhere, who: int, now: datetime) -> list[Operation]:
    """Make a step's text the library's newest, which waits in every other playbook that uses it; what marks the draft's
    as that version. Raises NotFound, and Conflict where there is nothing to share."""
    mine = _mine(session, playbook_id, deed.step)
    if mine is None:
        raise Conflict("only a step from the library, in which nothing is wrong, can be changed for all")
    if _says_the_same(mine.step, mine.row):
        raise Conflict("the library says the same of this step already")
    if mine.step.kind != mine.row.shared["kind"]:
        raise Conflict("it is of another kind here; what is another step is no newer text of it")
    if mine.version < mine.row.version:
        raise Conflict(
            f"the library has a newer text of it, by {mine.row.person.name}: take that into this draft first"
        )
    origin = mine.row.step_id
    version = library.add_library_version(session, origin, {**shared_half(mine.step), "id": origin}, who, now)
    return [_origin(session, playbook_id, deed.step, origin, version)]


def _origin(session: Session, playbook_id: str, key: str, step: str, version: int) -> Operation:
    tree = drafts.tree_at(session, playbook_id, drafts.newest_revision(session, playbook_id).number)
    was = tree.items[key].get("origin")
    return {"op": "set", "key": key, "path": ["origin"], "was": was, "value": {"step": step, "version": version}}


def share_new(session: Session, playbook_id: str, playbook: Playbook, who: int, now: datetime) -> list[Operation]:
    """Take each step that was made in this draft into the library; what marks them as from there."""
    tree = drafts.tree_at(session, playbook_id, drafts.newest_revision(session, playbook_id).number)
    steps = {step.id: step for step in playbook.steps}
    found = []
    for item in tree.children("playbook", ("steps",)):
        step = steps.get(id_of(item))
        if "origin" in item or step is None or not tree.is_shown(item["key"]):
            continue
        if library.library_step(session, step.id) is None:
            version = library.add_library_version(session, step.id, shared_half(step), who, now)
            found.append(_origin(session, playbook_id, item["key"], step.id, version))
    return found
