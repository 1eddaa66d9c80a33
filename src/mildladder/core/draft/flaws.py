"""What keeps a working form from being a sound playbook, by place; and the tree without flaws.

A flaw is found by reading the tree into the one model and by `soundness`: there is no second definition of any shape.
"""

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from itertools import islice
from typing import Any, NamedTuple

from pydantic import ValidationError

from mildladder.core.draft.form import Place, to_document
from mildladder.core.draft.shape import ROOT
from mildladder.core.draft.tree import Editor, Item, Path, Tree, alike
from mildladder.core.errors import BadInput
from mildladder.core.ladder.grammar import stops_at
from mildladder.core.ladder.soundness import faults
from mildladder.core.ladder.work import check_work
from mildladder.core.model import NOT_OF_PATTERN, Document, Shape

__all__ = ["AsRead", "Flaw", "Sound", "Stead", "as_read", "sound_tree"]

# So often the whole tree is read before figures are given up, and up to so many flaws are mended one by one.
_MOST_ROUNDS, _FEW, _MOST_FLAWS, _MOST_EARLIER = 40, 8, 200, 20
# What each error of a shape is in a field that people fill in, with what it was measured by.
_SAYS = {
    "missing": "this is missing",
    "string_too_short": "this is empty",
    "string_too_long": "this is too long: at most {max_length:,} characters",
    "too_short": "there must be at least one",
    "string_type": "this is no text",
    "float_type": "this is no number",
    "finite_number": "this is no number",
    "int_type": "this is no whole number",
    "greater_than_equal": "this must be at least {ge:,.9g}",
    "greater_than": "this must be more than {gt:,.9g}",
    "less_than_equal": "this must be at most {le:,.9g}",
    "date_from_datetime_parsing": "this is no date such as 2026-04-01",
    "bool_type": "this is neither yes nor no",
    "bool_parsing": "this is neither yes nor no",
    "literal_error": "this is none of what can stand here",
}
_MOST_SHARE = "this must be at most 100 %"
_UNREAD = "this condition cannot be read to its end: something is missing there, or a word is not known"


class Flaw(Shape):
    """One thing that is not sound yet: of which item, in which field, and what it is, in a plain sentence."""

    key: str
    field: tuple[str, ...]
    says: str


class Stead(Shape):
    """What figures are made with instead of what has a flaw: an earlier value of the field, or without the item."""

    key: str
    field: tuple[str, ...]
    is_left_out: bool


class Sound(NamedTuple):
    """root, document: of the tree without flaws; no document where the playbook itself is not sound. keys: of its items
    by their place in the document. instead: where it is not what stands there."""

    root: Item
    keys: Mapping[Place, str]
    document: Document | None
    instead: tuple[Stead, ...]


# Earlier values of an item's field, the newest first.
Earlier = Callable[[str, Path], Iterable[Any]]


class AsRead(NamedTuple):
    """What a tree is read as: a document, where its shape allows one, and every flaw; of shape first, and what only a
    whole document shows after that."""

    document: Document | None
    keys: Mapping[Place, str]
    flaws: tuple[Flaw, ...]


def sound_tree(root: Item, earlier: Earlier, first: AsRead | None = None) -> Sound:
    """The tree for figures: at each flaw the newest earlier value with which the field has none in today's tree; where
    there is none, the item is left out. first: what the tree itself is read as, where that is known.

    One flaw is mended at a time, since that may mend others. Of more than a few, each item's first is mended at once:
    to read the whole tree anew for each of a hundred would take minutes.
    """
    tree = Editor(root)
    instead: list[Stead] = []
    for _ in range(_MOST_ROUNDS):
        document, keys, found = first or as_read(tree)
        if not found:
            return Sound(tree.root, keys, document, tuple(instead))
        if _is_of_all(found[0]):
            break
        some = _first_of_each(found) if len(found) > _FEW else [found[0]]
        made, first = _mended(tree, some, earlier)
        if not made:
            break
        instead += made
    return Sound(tree.root, {}, None, tuple(instead))


def _is_of_all(flaw: Flaw) -> bool:
    """Whether it is of the playbook itself: there is nothing to set back or to leave out."""
    return flaw.key == ROOT and not flaw.field


def _first_of_each(found: Iterable[Flaw]) -> list[Flaw]:
    """The first flaw of each item."""
    first: dict[str, Flaw] = {}
    for flaw in found:
        if not _is_of_all(flaw):
            first.setdefault(flaw.key, flaw)
    return list(first.values())


def _mended(tree: Editor, flaws: Sequence[Flaw], earlier: Earlier) -> tuple[list[Stead], AsRead | None]:
    """What is done about flaws of as many items, done in the tree; nothing where nothing can be done. What the tree is
    read as then, where that is known."""
    fitting, read = _fitting(tree.root, flaws, earlier)
    made = []
    for flaw in flaws:
        if (flaw.key, flaw.field) in fitting:
            tree.set(flaw.key, flaw.field, fitting[flaw.key, flaw.field])
            made.append(Stead(key=flaw.key, field=flaw.field, is_left_out=False))
    for flaw in flaws:
        if (flaw.key, flaw.field) not in fitting and flaw.key != ROOT and tree.is_shown(flaw.key):
            tree.set_hidden(flaw.key, True)
            made.append(Stead(key=flaw.key, field=(), is_left_out=True))
    return made, read if len(fitting) == len(flaws) else None


def _fitting(root: Item, flaws: Sequence[Flaw], earlier: Earlier) -> tuple[dict[tuple[str, Path], Any], AsRead | None]:
    """By item and field, the newest earlier value with which the field has no flaw; and what the tree with all of them
    is read as. Those of all fields are tried together, as often as the field with most of them needs."""
    before = Tree(root)
    waiting = {(one.key, one.field): _values(before, one, earlier) for one in flaws if one.field}
    found: dict[tuple[str, Path], Any] = {}
    read: AsRead | None = None
    while waiting:
        editor = Editor(root)
        tried: dict[tuple[str, Path], Any] = {}
        for place, values in list(waiting.items()):
            try:
                tried[place] = next(values)
            except StopIteration:
                del waiting[place]
        for (key, field), value in (found | tried).items():
            editor.set(key, field, value)
        if tried:
            read = as_read(editor)
            wrong = {(one.key, one.field) for one in read.flaws}
            for place in tried.keys() - wrong:
                found[place] = tried[place]
                del waiting[place]
    return found, read


def _values(before: Tree, flaw: Flaw, earlier: Earlier) -> Iterator[Any]:
    """The earlier values of a flaw's field, each once, the newest first. Lists are made of items, which stay."""
    seen: list[Any] = [before.value(flaw.key, flaw.field)]
    for value in islice(earlier(flaw.key, flaw.field), _MOST_EARLIER):
        if not isinstance(value, list) and not any(alike(value, one) for one in seen):
            seen.append(value)
            yield value


def as_read(tree: Tree) -> AsRead:
    """Read a tree into the one model."""
    out = to_document(tree)

    def flaw(path: tuple[str, ...], says: str) -> Flaw:
        key, field = out.place(path)
        return Flaw(key=key, field=_as_form(tree, key, tuple(field)), says=says)

    try:
        document = Document.model_validate(out.document)
    except ValidationError as error:
        found = [
            flaw(tuple(str(part) for part in one["loc"][1:]), _says(one["type"], one.get("ctx") or {}, one["msg"]))
            for one in error.errors(include_url=False, include_input=False)
            if one["loc"] and one["loc"][0] == "playbook"
        ]
        return AsRead(None, out.keys, _once(found or [Flaw(key=ROOT, field=(), says="this playbook cannot be read")]))
    found = [_as_typed(flaw(tuple(one.path.split(".")), one.says), tree) for one in faults(document.playbook)]
    if not found:
        try:
            check_work(document.playbook)
        except BadInput as error:
            found = [Flaw(key=ROOT, field=(), says=error.says)]
    return AsRead(document, out.keys, _once(found))


def _as_form(tree: Tree, key: str, field: tuple[str, ...]) -> tuple[str, ...]:
    """A field by the names that the working form has: those of causes and findings are their keys."""
    item = tree.items[key]
    here: Any = item
    made: list[str] = []
    for name in field:
        if isinstance(here, dict) and name not in here:
            same = [inner for inner in here if inner in tree.items and name in _names(tree.items[inner])]
            name = same[0] if same else name
        made.append(name)
        here = here.get(name) if isinstance(here, dict) else None
        if isinstance(here, list):
            break
    return tuple(made)


def _names(item: Item) -> tuple[str, ...]:
    return tuple(str(item[name]) for name in ("name", "id", "key") if name in item)


def _as_typed(flaw: Flaw, tree: Tree) -> Flaw:
    """A file's author sees the condition that cannot be read with its ids; whoever types it sees titles instead."""
    text = tree.value(flaw.key, flaw.field) if flaw.field[-1:] == ("when",) else None
    return flaw.model_copy(update={"says": _UNREAD}) if isinstance(text, str) and stops_at(text) else flaw


def _once(found: list[Flaw]) -> tuple[Flaw, ...]:
    return tuple(dict.fromkeys(found))[:_MOST_FLAWS]


def _says(kind: str, measured: Mapping[str, Any], message: str) -> str:
    """An error of a shape in a plain sentence. What is written as per cent has 1 for the most."""
    if kind == "string_pattern_mismatch" and measured["pattern"] in NOT_OF_PATTERN:
        what, _, how = NOT_OF_PATTERN[measured["pattern"]]
        return f"this is {what}: {how}"
    if kind == "less_than_equal" and measured["le"] == 1:
        return _MOST_SHARE
    if kind in _SAYS:
        return _SAYS[kind].format(**measured)
    text = message.removeprefix("Value error, ")
    return text[:1].lower() + text[1:]
