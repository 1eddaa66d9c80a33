"""What keeps a working form from being a sound playbook, by place; and the tree without flaws.

A flaw is found by reading the tree into the one model and by `soundness`: there is no second definition of any shape.
"""

from collections.abc import Callable, Iterable, Mapping
from typing import Any, NamedTuple

from pydantic import ValidationError

from mildladder.core.draft.form import Place, read_out
from mildladder.core.draft.shape import ROOT
from mildladder.core.draft.tree import Editor, Item, Path, Tree, alike
from mildladder.core.errors import BadInput
from mildladder.core.ladder.grammar import stops_at
from mildladder.core.ladder.soundness import faults
from mildladder.core.ladder.work import check_work
from mildladder.core.model import NOT_OF_PATTERN, Document, Shape

__all__ = ["AsRead", "Flaw", "Sound", "Stead", "as_read", "flaws_of", "sound_tree"]

# So many flaws are looked at before figures are given up; each is looked for in the whole tree.
_MOST_ROUNDS, _MOST_FLAWS, _MOST_EARLIER = 40, 200, 20
# What each error of a shape is in a field that people fill in, with what it was measured by.
_SAYS = {
    "missing": "this is missing", "string_too_short": "this is empty",
    "string_too_long": "this is too long: at most {max_length:,} characters", "too_short": "there must be at least one",
    "string_type": "this is no text", "float_type": "this is no number", "finite_number": "this is no number",
    "int_type": "this is no whole number",
    "greater_than_equal": "this must be at least {ge:,.9g}", "greater_than": "this must be more than {gt:,.9g}",
    "less_than_equal": "this must be at most {le:,.9g}",
    "date_from_datetime_parsing": "this is no date such as 2026-04-01",
    "bool_type": "this is neither yes nor no", "bool_parsing": "this is neither yes nor no",
    "literal_error": "this is none of what can stand here",
}  # fmt: skip
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


def flaws_of(root: Item) -> tuple[Flaw, ...]:
    """Every flaw, in the order of the document."""
    return as_read(Tree(root)).flaws


def sound_tree(root: Item, earlier: Earlier, first: AsRead | None = None) -> Sound:
    """The tree for figures: at each flaw the newest earlier value with which the field has none in today's tree; where
    there is none, the item is left out. first: what the tree itself is read as, where that is known."""
    tree = Editor(root)
    instead: list[Stead] = []
    for _ in range(_MOST_ROUNDS):
        document, keys, found = first or as_read(tree)
        first = None
        if not found:
            return Sound(tree.root, keys, document, tuple(instead))
        flaw = found[0]
        if not flaw.field and flaw.key == ROOT:
            break
        value = _fitting(tree.root, flaw, earlier)
        if value is not _NONE:
            tree.set(flaw.key, flaw.field, value)
            instead.append(Stead(key=flaw.key, field=flaw.field, is_left_out=False))
        elif flaw.key != ROOT:
            tree.mark_out(flaw.key, True)
            instead.append(Stead(key=flaw.key, field=(), is_left_out=True))
        else:
            break
    return Sound(tree.root, {}, None, tuple(instead))


_NONE = object()


def _fitting(root: Item, flaw: Flaw, earlier: Earlier) -> Any:
    """The newest earlier value of the flaw's field without a flaw there."""
    if not flaw.field:
        return _NONE
    there = Tree(root).value(flaw.key, flaw.field)
    tried: list[Any] = [there]
    for number, value in enumerate(earlier(flaw.key, flaw.field)):
        if number >= _MOST_EARLIER:
            break
        if isinstance(value, list) or any(alike(value, one) for one in tried):
            continue
        tried.append(value)
        editor = Editor(root)
        editor.set(flaw.key, flaw.field, value)
        if not any(one.key == flaw.key and one.field == flaw.field for one in flaws_of(editor.root)):
            return value
    return _NONE


def as_read(tree: Tree) -> AsRead:
    """Read a tree into the one model."""
    out = read_out(tree)

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
