"""Patterns of values (I-Regexp, RFC 9485), matched in time that grows with the value and nothing else."""

from functools import lru_cache
from typing import Any

__all__ = ["fits_pattern", "is_pattern"]

_MOST_MEMORY = 1 << 20


def is_pattern(pattern: str) -> bool:
    """Whether that is a pattern, and one of a sensible size."""
    return _compiled(pattern) is not None


def fits_pattern(pattern: str, value: str) -> bool:
    """Whether the whole value is as the pattern says. A pattern that cannot be read fits nothing."""
    compiled = _compiled(pattern)
    return compiled is not None and compiled.fullmatch(value) is not None


@lru_cache(maxsize=1024)
def _compiled(pattern: str) -> Any:
    import re2

    options = re2.Options()
    options.max_mem, options.log_errors = _MOST_MEMORY, False
    try:
        return re2.compile(pattern, options)
    except re2.error:
        return None
