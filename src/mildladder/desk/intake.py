"""Bring logged cases in from files, and show the lines that could not be read."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from datetime import datetime

from sqlalchemy.orm import Session

from mildladder.core.errors import BadInput
from mildladder.core.model import Case, RefusedLine, Shape
from mildladder.desk.settings import return_window
from mildladder.store.intake import keep_refused, refused_counts, refused_lines
from mildladder.store.log.tallies import fold_tallies
from mildladder.store.log.writing import Logging, log_cases

__all__ = ["CasesImported", "LeftOut", "LeftOutLine", "import_cases", "left_out"]


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
    session: Session,
    lines: Iterable[Case | RefusedLine],
    origin: str,
    who: int,
    now: datetime,
    source: str = "",
    leave_out: bool = False,
) -> CasesImported:
    """Log every case of a file; what cannot be read is left out and kept for the lead to see, if `leave_out`.

    source: the file's name. Raises BadInput, and nothing may be kept of the session, when a line cannot be read and
    none may be left out.
    """
    window = return_window(session)
    fold_tallies(session, now.date(), window)
    refused = _Refused()
    counts = log_cases(session, refused.without(lines, stop=not leave_out), Logging(origin, who, now, window))
    if refused.count and not leave_out:
        first, more = refused.kept[0], refused.count - 1
        others = f", nor can {more:,} more" if more else ""
        says = f"{first.says}. The line cannot be read{others}: mend the file, or log the others with --leave-out"
        raise BadInput(says, path=first.path, line=first.line, source=source or None)
    keep_refused(session, source, refused.kept, who, now)
    return CasesImported(
        read=counts.total(),
        new=counts["new"],
        updated=counts["updated"],
        unchanged=counts["unchanged"],
        refused=refused.count,
        reasons=tuple(refused.kept),
    )


@dataclass
class _Refused:
    """Lines that are no cases: all counted, the first thousand kept."""

    count: int = 0
    kept: list[RefusedLine] = field(default_factory=list)

    def without(self, lines: Iterable[Case | RefusedLine], stop: bool) -> Iterator[Case]:
        """The cases alone; if `stop`, no more of them once a line was refused, though the rest is still read."""
        for line in lines:
            if isinstance(line, RefusedLine):
                self.count += 1
                if len(self.kept) < _REASONS:
                    self.kept.append(line)
            elif not (stop and self.count):
                yield line


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
