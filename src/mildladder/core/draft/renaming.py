"""Call a value of a fact otherwise, wherever a draft names it: its share, and every condition that looks for it."""

from mildladder.core.draft.apply import Operation
from mildladder.core.draft.tree import Item, Tree
from mildladder.core.errors import BadInput, Conflict, NotFound
from mildladder.core.ladder.conditions import Compare, Condition, mapped, parse, show

__all__ = ["value_renamed"]

_SPREADS = ("choices", "shares")


def value_renamed(root: Item, fact: str, was: str, to: str) -> list[Operation]:
    """What calls a value otherwise in a working form. fact: its key. A condition that cannot be read stays as it is.

    Raises NotFound for a fact or a value that is not there, Conflict where another value is called so already.
    """
    tree = Tree(root)
    item = tree.items.get(fact)
    spread = next((name for name in _SPREADS if item is not None and was in item.get(name, {})), None)
    if item is None or spread is None or item[spread][was] is None:
        raise NotFound(f"there is no answer “{was}” any more")
    if item[spread].get(to) is not None:
        raise Conflict(f"there is an answer “{to}” already")
    names = {item["key"], item.get("id"), item.get("name")}
    share = item[spread][was]
    return [
        {"op": "set", "key": fact, "path": [spread, was], "was": share, "value": None},
        {"op": "set", "key": fact, "path": [spread, to], "was": None, "value": share},
        *_conditions(tree, names, was, to),
    ]


def _conditions(tree: Tree, names: set[str | None], was: str, to: str) -> list[Operation]:
    def told(test: Condition) -> Condition:
        if isinstance(test, Compare) and test.fact in names and was in test.values:
            return Compare(test.fact, test.operator, tuple(to if value == was else value for value in test.values))
        return test

    found: list[Operation] = []
    for key, item in tree.items.items():
        when = item.get("when")
        if not isinstance(when, str) or was not in when:
            continue
        try:
            condition = parse(when)
        except BadInput:
            continue
        renamed = mapped(condition, told)
        if renamed != condition:
            found.append({"op": "set", "key": key, "path": ["when"], "was": when, "value": show(renamed)})
    return found
