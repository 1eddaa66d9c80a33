"""Bring logged cases in from files, all or none, and show the lines that could not be read."""

from collections import Counter, OrderedDict
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from datetime import datetime

from sqlalchemy.orm import Session

from mildladder.core.errors import BadInput
from mildladder.core.model import Case, CaseLine, RefusedLine, Shape
from mildladder.desk.settings import return_window
from mildladder.store.intake import (
    begin_import,
    end_import,
    keep_refused,
    refused_counts,
    refused_lines,
)
from mildladder.store.log.prepared import Prepared, prepare
from mildladder.store.log.tallies import fold
from mildladder.store.log.writing import Logged, Logging, log_cases

__all__ = ["CasesImported", "LeftOut", "Lines", "Reader", "finish", "import_cases", "left_out", "ready"]

Lines = Iterable[Case | CaseLine | Prepared | RefusedLine]
_REASONS = 1000


class CasesImported(Shape):
    """How many cases were read, and what became of them; `refused`: lines that were left out, the first of them with
    their `reasons`."""

    read: int
    new: int
    updated: int
    unchanged: int
    refused: int
    reasons: tuple[RefusedLine, ...]


def import_cases(
    session: Session, lines: Lines, origin: str, who: int, now: datetime, source: str = "", leave_out: bool = False
) -> CasesImported:
    """Log every case in one transaction; what cannot be read is left out and kept for the lead to see, if `leave_out`.

    source: the file's name. Raises BadInput, and nothing may be kept of the session, when a line cannot be read, or
    names a case of another origin, and none may be left out.
    """
    reader = Reader(leave_out)
    window = return_window(session)
    fold(session, now.date(), window)
    number = begin_import(session, source, who, now)
    done = log_cases(session, reader.cases(lines), Logging(origin, who, now, window, number))
    reader.refuse_others(done.of_another_origin)
    reader.raise_refused(source)
    return finish(session, reader, done, number, source, who, now)


def finish(
    session: Session, reader: "Reader", done: Logged, number: int, source: str, who: int, now: datetime
) -> CasesImported:
    """An import is done: keep what it left out, and say what became of its cases."""
    keep_refused(session, number, source, reader.kept, done.came_with - {number}, who, now)
    end_import(session, number, "done")
    counts: Counter[str] = done.counts
    return CasesImported(
        read=counts.total(),
        new=counts["new"],
        updated=counts["updated"],
        unchanged=counts["unchanged"],
        refused=reader.count,
        reasons=tuple(reader.kept),
    )


def ready(line: Case | CaseLine | Prepared) -> Prepared:
    """A case ready to be stored."""
    if isinstance(line, Prepared):
        return line
    return prepare(line.case, line.line) if isinstance(line, CaseLine) else prepare(line)


_REMEMBERED = 4_000


@dataclass
class Reader:
    """Cases of a file; of lines that are none all are counted, and the first thousand kept.

    numbers: of the lines last read, by case.
    """

    leave_out: bool
    count: int = 0
    kept: list[RefusedLine] = field(default_factory=list)
    numbers: "OrderedDict[str, int]" = field(default_factory=OrderedDict)

    def cases(self, lines: Lines) -> Iterator[Prepared]:
        """The cases alone; no more of them once a line was refused that may not be left out, though all are read."""
        for line in lines:
            if isinstance(line, RefusedLine):
                self._refuse(line)
            elif self.leave_out or not self.count:
                prepared = ready(line)
                self.numbers[prepared.id] = prepared.line
                if len(self.numbers) > _REMEMBERED:
                    self.numbers.popitem(last=False)
                yield prepared

    def look_through(self, lines: Lines) -> Iterator[int]:
        """Only look for lines that cannot be read: how many there were, after each."""
        for count, line in enumerate(lines, start=1):
            if isinstance(line, RefusedLine):
                self._refuse(line)
            yield count

    def refuse_others(self, names: Sequence[str]) -> None:
        """Cases of these ids were guided here, or brought in and now guided: neither ever takes the other's place."""
        for name in names:
            says = f"the case '{name}' is of another origin here; give this one an id of its own"
            self._refuse(RefusedLine(line=self.numbers.get(name, 0), path="case", says=says, text=name))

    def _refuse(self, line: RefusedLine) -> None:
        self.count += 1
        if len(self.kept) < _REASONS:
            self.kept.append(line)

    def raise_refused(self, source: str) -> None:
        """Raises BadInput for the first line that was refused, where none may be left out."""
        if self.leave_out or not self.count:
            return
        first, more = self.kept[0], self.count - 1
        others = f", nor can {more:,} more" if more else ""
        says = f"{first.says}. The line cannot be read{others}: mend the file, or log the others with --leave-out"
        raise BadInput(says, path=first.path, line=first.line or None, source=source or None)


_MOST_LINES = 1000


class LeftOutLine(Shape):
    """A line of a brought-in case file that is in no log, and why. `text`: how it begins; `at`: when it was read."""

    source: str
    line: int
    path: str
    says: str
    text: str
    at: datetime


class LeftOut(Shape):
    """All lines that wait to be mended and brought in again; `lines`: the first of them, by file."""

    total: int
    lines: tuple[LeftOutLine, ...]


def left_out(session: Session) -> LeftOut:
    """What could not be read of brought-in files, the first lines of it word for word."""
    counts = refused_counts(session)
    lines = tuple(
        LeftOutLine(source=row.source, line=row.line, path=row.path, says=row.says, text=row.text, at=row.at)
        for row in refused_lines(session, _MOST_LINES)
    )
    return LeftOut(total=sum(counts.values()), lines=lines)
