"""The one hierarchy of errors that a person can put right.

Kept apart so that every layer can raise them without importing another. The API turns them into
problem documents, the command line into one line; anything else that is raised is our own fault.
"""

from collections.abc import Iterator, Mapping, Sequence
from typing import Any, Self

from mildladder.core.texts import shortened

__all__ = [
    "BadInput",
    "Busy",
    "Conflict",
    "LadderError",
    "NoPerson",
    "NotFound",
    "NotTheirs",
    "OtherPerson",
    "Outrun",
    "Several",
    "Stale",
    "Stopped",
    "Unavailable",
    "Unconditional",
    "Unsound",
    "as_data",
    "every_error",
    "of_data",
    "raise_all",
]

_MOST, _MOST_SAID, _MOST_PLACE = 500, 320, 80


class LadderError(Exception):
    """Root: a plain sentence that says what is wrong and what to do.

    code: a stable word for the kind of error. is_passing: the same request may succeed later, unchanged.
    """

    code = "error"
    is_passing = False

    def __init__(self, says: str) -> None:
        super().__init__(shortened(says, _MOST))

    def data(self) -> dict[str, Any]:
        """What is kept of the error beside its code, as JSON data; `of` reads it."""
        return {"says": str(self)}

    @classmethod
    def of(cls, data: Mapping[str, Any]) -> Self:
        """Inverse of `data`."""
        return cls(data["says"])


class NotFound(LadderError):
    """Nothing has the id that was asked for."""

    code = "not-found"


class BadInput(LadderError):
    """A value, file or request that cannot be read.

    source: file name or None; line: 1-based or None; path: where in the document, such as ``steps.2.effort``.
    """

    code = "bad-input"

    def __init__(self, says: str, *, path: str = "", line: int | None = None, source: str | None = None) -> None:
        self.says, self.path = shortened(says, _MOST_SAID), shortened(path, _MOST_PLACE)
        self.line, self.source = line, source
        name = source and (source if len(source) <= _MOST_PLACE else f"…{source[1 - _MOST_PLACE :]}")
        place = ":".join(str(part) for part in (name, line) if part is not None)
        super().__init__(": ".join(part for part in (place, self.path, self.says) if part))

    def data(self) -> dict[str, Any]:
        """The sentence, and its place."""
        return {"says": self.says, "path": self.path, "line": self.line, "source": self.source}

    @classmethod
    def of(cls, data: Mapping[str, Any]) -> Self:
        """Inverse of `data`."""
        return cls(data["says"], path=data.get("path", ""), line=data.get("line"), source=data.get("source"))


class Several(LadderError):
    """More than one thing is wrong, told all at once. problems: each by itself, in order."""

    code = "several"

    def __init__(self, problems: Sequence[LadderError]) -> None:
        self.problems = tuple(problems)
        super().__init__("; ".join(str(problem) for problem in problems))

    def data(self) -> dict[str, Any]:
        """Each problem, as `as_data` has it."""
        return {"says": str(self), "problems": [as_data(problem) for problem in self.problems]}

    @classmethod
    def of(cls, data: Mapping[str, Any]) -> Self:
        """Inverse of `data`."""
        return cls([of_data(problem) for problem in data["problems"]])


def raise_all(problems: Sequence[LadderError]) -> None:
    """Raise what is wrong, where anything is: one thing as itself, several as `Several`."""
    if problems:
        raise problems[0] if len(problems) == 1 else Several(problems)


class Stale(LadderError):
    """A write named a revision that is no longer the newest. `current`: the newest revision's number."""

    code = "stale"

    def __init__(self, says: str, current: int) -> None:
        super().__init__(says)
        self.current = current

    def data(self) -> dict[str, Any]:
        """The sentence, and the newest revision."""
        return {"says": str(self), "current": self.current}

    @classmethod
    def of(cls, data: Mapping[str, Any]) -> Self:
        """Inverse of `data`."""
        return cls(data["says"], data["current"])


class Outrun(LadderError):
    """A page's edit that does not follow its last one. `next`: the number that is taken from it."""

    code = "outrun"

    def __init__(self, says: str, next_number: int) -> None:
        super().__init__(says)
        self.next = next_number

    def data(self) -> dict[str, Any]:
        """The sentence, and the number that is taken next."""
        return {"says": str(self), "next": self.next}

    @classmethod
    def of(cls, data: Mapping[str, Any]) -> Self:
        """Inverse of `data`."""
        return cls(data["says"], data["next"])


class Unsound(LadderError):
    """A draft that cannot be published yet. places: what keeps it from that, each with the key of its item, its field
    and a sentence."""

    code = "unsound"

    def __init__(self, says: str, places: Sequence[tuple[str, tuple[str, ...], str]]) -> None:
        super().__init__(says)
        self.places = tuple(places)

    def data(self) -> dict[str, Any]:
        """The sentence, and the places."""
        return {"says": str(self), "places": [[key, list(field), says] for key, field, says in self.places]}

    @classmethod
    def of(cls, data: Mapping[str, Any]) -> Self:
        """Inverse of `data`."""
        return cls(data["says"], [(key, tuple(field), says) for key, field, says in data["places"]])


class Unconditional(LadderError):
    """A write that does not say which revision it was made upon."""

    code = "unconditional"


class Conflict(LadderError):
    """The request is sound but the thing is not in a state that allows it."""

    code = "conflict"


class NoPerson(LadderError):
    """A write from a browser that has not yet said who sits at it."""

    code = "no-person"


class OtherPerson(NoPerson):
    """A write from a page that shows somebody else than who sits at the browser by now."""

    code = "other-person"


class NotTheirs(LadderError):
    """Somebody asks for what only another role may do."""

    code = "not-theirs"


class Unavailable(LadderError):
    """A port, file or database that cannot be used just now."""

    code = "unavailable"
    is_passing = True


class Busy(Unavailable):
    """A database that others are writing; it can be tried again at once."""

    code = "busy"


class Stopped(Exception):
    """Whoever asked wants no answer any more; told to nobody."""


def every_error(kind: type[LadderError] = LadderError) -> Iterator[type[LadderError]]:
    """The whole hierarchy, the root first."""
    yield kind
    for inner in kind.__subclasses__():
        yield from every_error(inner)


def as_data(error: LadderError) -> dict[str, Any]:
    """What a person is told of an error, for where it has to be kept; `of_data` reads it."""
    return {"code": error.code, **error.data()}


def of_data(data: Mapping[str, Any]) -> LadderError:
    """Inverse of `as_data`. A code that no error has any more is read as `Unavailable`."""
    kind = next((kind for kind in every_error() if kind.code == data["code"]), Unavailable)
    return kind.of(data)
