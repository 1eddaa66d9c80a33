"""How much memory a value takes, about: what a cache is bounded by."""

import marshal
import sys
from typing import Any

__all__ = ["size_of", "size_of_plain"]

_PLAIN = (str, bytes, int, float, bool, type(None))
# So much more memory than its marshalled form does plain data take.
_TIMES = 6
_SHARED = (type, type(len), type(lambda: None))


def size_of(value: Any) -> int:
    """The bytes of a value and of all that it holds, each object once; what is shared with others counts in full."""
    seen: set[int] = set()
    waiting = [value]
    total = 0
    while waiting:
        one = waiting.pop()
        if id(one) in seen or isinstance(one, _SHARED):
            continue
        seen.add(id(one))
        # Arrays tell their own memory here too.
        total += sys.getsizeof(one)
        if isinstance(one, _PLAIN):
            continue
        if isinstance(one, dict):
            waiting.extend(one.keys())
            waiting.extend(one.values())
        elif isinstance(one, list | tuple | set | frozenset):
            waiting.extend(one)
        else:
            waiting.extend(_parts(one))
    return total


def size_of_plain(value: Any) -> int:
    """The bytes of a value that is made of plain data alone, about, without looking at every part of it."""
    return _TIMES * len(marshal.dumps(value))


def _parts(one: Any) -> list[Any]:
    """What an object of a class holds."""
    found = [one.__dict__] if hasattr(one, "__dict__") else []
    for kind in type(one).__mro__:
        slots = kind.__dict__.get("__slots__", ())
        for name in (slots,) if isinstance(slots, str) else slots:
            if name not in ("__dict__", "__weakref__") and hasattr(one, name):
                found.append(getattr(one, name))
    return found
