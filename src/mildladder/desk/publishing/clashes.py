"""What a playbook file and the library say differently of a step, and what is to become of it."""

import json
from collections.abc import Collection, Iterator, Mapping, MutableMapping, Sequence
from typing import Any, Literal

from sqlalchemy.orm import Session

from mildladder.core.draft.form import plain_playbook
from mildladder.core.errors import Conflict
from mildladder.core.ladder.halves import shared_half
from mildladder.core.ladder.links import look_alikes, rail_ends
from mildladder.core.ladder.rename import free_id, with_step_id
from mildladder.core.ladder.walk import rungs_of
from mildladder.core.model import Playbook, Shape, Step
from mildladder.store import drafts, library
from mildladder.store.documents import sound_of

__all__ = [
    "Absent",
    "Alike",
    "Copies",
    "ImportPreview",
    "StepChoice",
    "absent",
    "as_drafted",
    "choices",
    "preview_import",
    "with_copies",
]


StepChoice = Literal["library", "file", "copy"]


class Clash(Shape):
    """A step that the library has with another text. keys: what differs; kinds_differ: only a separate id will do."""

    step: str
    title: str
    keys: tuple[str, ...]
    kinds_differ: bool
    used_in: tuple[str, ...]


class Alike(Shape):
    """A step that the library has word for word under another id; brought in, it is counted apart."""

    step: str
    title: str
    known_as: str


class Absent(Shape):
    """A playbook that is named and that nobody has. path: where it is named."""

    path: str
    playbook: str


class ImportPreview(Shape):
    """What bringing a playbook in would do: replace a draft, add steps to the library, link those that are alike.

    alike: new steps that the library has under other ids; absent: what it names and nobody would have.
    """

    playbook: str
    title: str
    rungs: int
    is_new: bool
    is_unchanged: bool
    new: tuple[str, ...]
    linked: tuple[str, ...]
    clashes: tuple[Clash, ...]
    alike: tuple[Alike, ...]
    absent: tuple[Absent, ...]


# Separate ids that one batch gave, by the step's id and text: the same text gets the same id in each of its files.
Copies = MutableMapping[tuple[str, str], str]


def absent(session: Session, playbook: Playbook, batch: Sequence[Playbook] = ()) -> tuple[Absent, ...]:
    """The playbooks that this one names and that neither the desk nor the batch has."""
    known = {playbook.id, *drafts.playbook_ids(session), *(one.id for one in batch)}
    named = [*look_alikes(playbook), *rail_ends(playbook)]
    return tuple(Absent(path=one.path, playbook=one.playbook) for one in named if one.playbook not in known)


def as_drafted(playbook: Playbook) -> Playbook:
    """A playbook as a draft would say it, so that what means the same is the same."""
    return Playbook.model_validate(plain_playbook(playbook.model_dump(mode="json", by_alias=True, exclude_unset=True)))


def preview_import(session: Session, playbook: Playbook, batch: Sequence[Playbook] = ()) -> ImportPreview:
    """What `import_playbook` would do, without doing it. batch: what is brought in before and after it."""
    playbook = as_drafted(playbook)
    before = _brought_before(playbook, batch)
    texts = library.newest_texts(session, [step.id for step in playbook.steps])
    there_by_step = {**before, **{step: text.shared for step, text in texts.items()}}
    other = [step for step in playbook.steps if there_by_step.get(step.id, mine := shared_half(step)) != mine]
    used = drafts.uses(session) if other else {}
    clashes = tuple(_clash(step, there_by_step[step.id], used) for step in other)
    clashing = {clash.step for clash in clashes}
    known = {step.id for step in playbook.steps if step.id in there_by_step}
    is_new = playbook.id not in drafts.playbook_ids(session)
    there = None if is_new else sound_of(session, playbook.id, drafts.newest_revision(session, playbook.id).number)
    return ImportPreview(
        playbook=playbook.id,
        title=playbook.title,
        rungs=sum(1 for _ in rungs_of(playbook.ladder)),
        is_new=is_new,
        is_unchanged=there is not None
        and not there.instead
        and there.document is not None
        and there.document.playbook == playbook,
        new=tuple(step.id for step in playbook.steps if step.id not in known),
        linked=tuple(step.id for step in playbook.steps if step.id in known - clashing),
        clashes=clashes,
        alike=tuple(_alike(session, [step for step in playbook.steps if step.id not in known])),
        absent=absent(session, playbook, batch),
    )


def _brought_before(playbook: Playbook, batch: Sequence[Playbook]) -> dict[str, dict[str, Any]]:
    """Shared halves by step of what the batch brings before this playbook."""
    brought: dict[str, dict[str, Any]] = {}
    for one in batch:
        if one.id == playbook.id:
            break
        for step in one.steps:
            brought.setdefault(step.id, shared_half(step))
    return brought


def _alike(session: Session, steps: Sequence[Step]) -> Iterator[Alike]:
    texts = {_text(row.shared): row.step_id for row in library.newest_library_steps(session)} if steps else {}
    for step in steps:
        known_as = texts.get(_text(shared_half(step)))
        if known_as is not None:
            yield Alike(step=step.id, title=step.title, known_as=known_as)


def _text(shared: Mapping[str, Any]) -> str:
    """The shared half without its id, to compare."""
    return json.dumps({key: value for key, value in shared.items() if key != "id"}, sort_keys=True)


def _clash(step: Step, there: dict[str, Any], used: Mapping[str, Collection[str]]) -> Clash:
    mine = shared_half(step)
    keys = tuple(key for key in {**there, **mine} if there.get(key) != mine.get(key))
    return Clash(
        step=step.id,
        title=step.title,
        keys=keys,
        kinds_differ="kind" in keys,
        used_in=tuple(sorted(used.get(step.id, ()))),
    )


def choices(preview: ImportPreview, steps: StepChoice | None, each: Mapping[str, StepChoice]) -> dict[str, StepChoice]:
    """What becomes of each step that clashes. Raises Conflict that lists those for which nothing was chosen."""
    clashing = {clash.step: clash for clash in preview.clashes}
    chosen: dict[str, StepChoice] = {}
    left: list[str] = []
    for step, clash in clashing.items():
        choice = each.get(step, steps)
        if choice is None:
            left.append(f"{step} ({', '.join(clash.keys)})")
        elif clash.kinds_differ and choice != "copy":
            raise Conflict(
                f"'{step}' is of another kind in the library; only a separate id will do: choose copy for it"
            )
        else:
            chosen[step] = choice
    if left:
        raise Conflict(
            f"the library has other texts of these steps: {'; '.join(left)}. Say which to keep with --steps library,"
            " --steps file or --steps copy"
        )
    return chosen


def with_copies(
    session: Session, playbook: Playbook, chosen: Mapping[str, StepChoice], made: Copies
) -> tuple[Playbook, dict[str, str]]:
    """The playbook in which steps that are to be copied have separate ids, and these by the ids before.

    made: what the batch has given so far; grows. A text that stands in several of its files gets one id in all.
    """
    wanted = [step for step, choice in chosen.items() if choice == "copy"]
    texts = {step.id: _text(shared_half(step)) for step in playbook.steps if step.id in wanted}
    shared = {step: made[step, text] for step, text in texts.items() if (step, text) in made}
    while True:
        copied = _separate_ids(session, playbook, wanted, shared)
        renamed = playbook
        for old, new in copied.items():
            renamed = with_step_id(renamed, old, new)
        # A step that names another one which is copied otherwise here is another text after all.
        unlike = [old for old, new in shared.items() if _is_other(session, renamed.step(new))]
        if not unlike:
            break
        for old in unlike:
            del shared[old]
    for old, new in copied.items():
        made.setdefault((old, texts[old]), new)
    return renamed, copied


def _separate_ids(
    session: Session, playbook: Playbook, wanted: Sequence[str], shared: Mapping[str, str]
) -> dict[str, str]:
    taken = set(library.library_ids(session)) | {step.id for step in playbook.steps}
    copied = {}
    for step in wanted:
        copied[step] = shared.get(step) or free_id(step, taken)
        taken.add(copied[step])
    return copied


def _is_other(session: Session, step: Step) -> bool:
    there = library.library_step(session, step.id)
    return there is None or there.shared != shared_half(step)
