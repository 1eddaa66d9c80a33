"""Bring case files of any size in, as a job: others may write in between, it can be cancelled, and it goes on where it
stopped."""

import hashlib
import os
import secrets
import time
from collections import Counter
from collections.abc import Callable, Iterator, Mapping
from contextlib import suppress
from dataclasses import dataclass
from datetime import datetime
from itertools import islice
from pathlib import Path
from typing import IO, Any, ClassVar, Literal

from mildladder.clock import utc_now
from mildladder.core.errors import Busy, Unavailable
from mildladder.core.model import RefusedLine
from mildladder.desk.jobs.batch_size import BatchSize
from mildladder.desk.jobs.kind import JobKind
from mildladder.desk.jobs.question import Question
from mildladder.desk.jobs.queue import MAX_WAITING, add, join_or_add
from mildladder.desk.jobs.task import Task, recording_outcome
from mildladder.desk.log.intake import CasesImported, Lines, Reader, finish, ready
from mildladder.desk.log.prefetching import prefetched
from mildladder.desk.settings import return_window
from mildladder.exchange.case_lines import lines_of, read_each
from mildladder.store import jobs as store
from mildladder.store.database import Database
from mildladder.store.file import opener, sibling
from mildladder.store.gc_pause import collect_gen0, gc_paused
from mildladder.store.intake import begin_import, import_state, running_imports
from mildladder.store.log.prepared import Prepared
from mildladder.store.log.tallies import Numbers, fold
from mildladder.store.log.undoing import undo_some
from mildladder.store.log.writing import Logged, Logging, log_cases

__all__ = ["IMPORTING", "forget_files", "import_in_batches", "queue_import", "undo_unfinished"]

_FEWEST, _FIRST, _MOST = 20, 50, 1_000
# A file is read through first; so many lines between looks at whether it is still wanted.
_LOOK_LINES = 500
_CHUNK = 1 << 20
# So long a file may take to arrive.
_ARRIVING_S = 3_600


class ImportQuestion(Question):
    """Bring in the cases of a file, whose name is the subject. digest: of what it holds; file: under which name it is
    kept beside the desk. Both are empty for a shell, which reads the file where it lies."""

    kind: ClassVar[str] = "importing"
    unasked_fields: ClassVar[frozenset[str]] = frozenset({"file"})
    ask: Literal["importing"] = "importing"
    leave_out: bool
    digest: str = ""
    file: str = ""


_KIND = ImportQuestion.kind
_Importing = Task[ImportQuestion]


def import_in_batches(
    database: Database,
    read: Callable[[], Lines],
    who: int,
    now: datetime,
    source: str,
    leave_out: bool,
    of: int | None = None,
    show: Callable[[int, int | None], None] = lambda _done, _of: None,
) -> CasesImported:
    """Log every case of a file of any size, as a job of this process; whatever goes wrong, it is undone as one.

    read: opens the file anew; it is read once to see that it can be, unless lines may be left out. of: how many lines
    it has, where that is known. show: is told how many cases are logged, and of how many. Raises BadInput when a line
    cannot be read, or names a case of another origin, and none may be left out; Unavailable while another import runs;
    Stopped when it is cancelled.
    """
    with database.exclusive_worker(_KIND):
        _undo_abandoned(database)
        with database.writing() as session:
            asked = ImportQuestion(subject=source, leave_out=leave_out)
            row = add(session, asked, who, now, is_outside=True)
        task = Task.of_row(database, row, asked, show=show)
        with recording_outcome(task, _undo_task):
            return _import(task, read, of, leave_out)


def queue_import(database: Database, lines: IO[bytes], source: str, leave_out: bool, who: int, now: datetime) -> int:
    """Keep a file beside the desk until the cases of it are logged; the number of that work. The same file that waits
    already, or is being logged, is not asked for twice. Raises Unavailable where it cannot be kept, and Busy where too
    many wait; then nothing is left of it."""
    folder = _folder(database)
    name = secrets.token_hex(16)
    is_kept = False
    try:
        folder.mkdir(mode=0o700, exist_ok=True)
        digest = _copied(lines, folder / name)
        with database.writing() as session:
            if store.count_waiting(session, _KIND) >= MAX_WAITING:
                raise Busy(f"{MAX_WAITING} files wait to be brought in; nothing was changed, try again later")
            asked = ImportQuestion(subject=source, leave_out=leave_out, digest=digest, file=name)
            row = join_or_add(session, asked, who, now)
            number, wanted = row.number, row.input["file"]
        is_kept = wanted == name
        return number
    except OSError as error:
        raise Unavailable(f"the file could not be kept: {error.strerror}; nothing was changed") from error
    finally:
        if not is_kept:
            with suppress(OSError):
                (folder / name).unlink(missing_ok=True)


def _copied(lines: IO[bytes], path: Path) -> str:
    """Copies a file to one that nobody has made before; the digest of what it holds."""
    digest = hashlib.sha256()
    with open(path, "xb", opener=opener) as file:
        while chunk := lines.read(_CHUNK):
            digest.update(chunk)
            file.write(chunk)
        file.flush()
        os.fsync(file.fileno())
    return digest.hexdigest()


def _bring_in(task: _Importing) -> None:
    """Log the cases of a file that is kept beside the desk. Raises as `import_in_batches` does."""
    _undo_abandoned(task.database)
    file = _file(task)
    try:
        with file.open("rb") as opened:
            of = sum(1 for _ in lines_of(opened))
    except FileNotFoundError:
        raise Unavailable("the file is not beside the desk any more; bring it in again") from None
    _import(task, lambda: _lines(file), of, task.question.leave_out)
    _forget_file(task)


def _undo_task(task: _Importing) -> None:
    """Take back what an import has logged."""
    number: int | None = task.so_far.get("import")
    if number is not None:
        with task.database.writing() as session:
            task.tell(session, phase="undoing")
            window = return_window(session)
            is_begun = import_state(session, number) in ("running", "undoing")
        if is_begun:
            _undo(task.database, number, window)
    _forget_file(task)


def undo_unfinished(database: Database) -> int:
    """Undo imports that ended in the middle, such as by a power cut, and that nobody will go on with; how many there
    were. A running one stays."""
    try:
        with database.exclusive_worker(_KIND):
            return _undo_abandoned(database)
    except Unavailable:
        return 0


def _import(task: _Importing, read: Callable[[], Lines], of: int | None, leave_out: bool) -> CasesImported:
    with task.database.writing(is_durable=False) as session:
        task.tell(session, phase="reading", of=of)
    if "import" not in task.so_far and not leave_out:
        _read_through(task, read)
    who = task.who
    assert who is not None, "an import carries a name"
    logging = _begin(task, who)
    reader, done = _log_in_batches(task, read, logging, leave_out)
    reader.raise_refused(task.subject)
    with task.database.writing() as session:
        assert logging.brought_by is not None
        made = finish(session, reader, done, logging.brought_by, task.subject, who, task.since)
        task.end(session, made.model_dump_json())
    return made


def _read_through(task: _Importing, read: Callable[[], Lines]) -> None:
    """Raises BadInput for the first line that cannot be read."""
    reader = Reader(leave_out=False)
    for count in reader.look_through(read()):
        if count % _LOOK_LINES == 0:
            task.check()
    reader.raise_refused(task.subject)


def _begin(task: _Importing, who: int) -> Logging:
    """Begin an import, or go on with the one that this job has begun."""
    with task.database.writing() as session:
        window = return_window(session)
        number = task.so_far.get("import")
        if number is None:
            fold(session, task.since.date(), window)
            number = begin_import(session, task.subject, who, task.since, task.number)
            task.tell(session, so_far={"import": number})
        task.tell(session, phase="logging")
        if import_state(session, number) != "running":
            raise Unavailable("this was being undone when the program ended; bring the file in again")
    return Logging("import", who, task.since, window, number)


@dataclass
class _SoFar:
    """What a job keeps to go on where it stopped. cases: how many of the file are logged; others: of another origin."""

    number: int
    cases: int
    done: Logged

    @classmethod
    def of(cls, number: int, kept: Mapping[str, Any]) -> "_SoFar":
        done = Logged(Counter(kept.get("counts", {})), [], set(kept.get("came_with", ())))
        return cls(number, kept.get("cases", 0), done)

    def data(self, others: list[str]) -> dict[str, Any]:
        counts, came_with = dict(self.done.counts), sorted(self.done.came_with)
        return {"import": self.number, "cases": self.cases, "counts": counts, "came_with": came_with, "others": others}


@gc_paused()
def _log_in_batches(
    task: _Importing, read: Callable[[], Lines], logging: Logging, leave_out: bool
) -> tuple[Reader, Logged]:
    assert logging.brought_by is not None
    so_far = _SoFar.of(logging.brought_by, task.so_far)
    others: list[str] = list(task.so_far.get("others", ()))
    reader = Reader(leave_out)
    cases = reader.cases(prefetched(_prepared(read())))
    for _ in islice(cases, so_far.cases):
        """Logged before it stopped."""
    reader.refuse_others(others)
    batches, known = BatchSize(_FIRST, _FEWEST, _MOST), Numbers()
    batch = list(islice(cases, batches.size))
    while batch:
        task.check()
        with task.database.writing(is_durable=False) as session:
            began = time.perf_counter()
            some = log_cases(session, batch, logging, known)
            so_far.cases += len(batch)
            so_far.done.counts += some.counts
            so_far.done.came_with |= some.came_with - {logging.brought_by}
            others += some.of_another_origin
            task.tell(session, done=so_far.cases, so_far=so_far.data(others))
        ended = time.monotonic()
        batches.adjust(time.perf_counter() - began)
        reader.refuse_others(some.of_another_origin)
        # Let go of first: what is still held would be looked through.
        batch = []
        collect_gen0()
        batch = list(islice(cases, batches.size))
        task.database.yield_write_lock(since=ended)
    task.database.checkpoint_wal()
    return reader, so_far.done


def _prepared(lines: Lines) -> "Iterator[Prepared | RefusedLine]":
    return (line if isinstance(line, RefusedLine) else ready(line) for line in lines)


def _undo_abandoned(database: Database) -> int:
    """Undo what ended in the middle and nobody goes on with, as no other import can be running now; how many."""
    with database.reading() as session:
        window = return_window(session)
        outside = {row.number for row in store.run_by_shells(session, _KIND)}
        numbers = [row.number for row in running_imports(session) if row.job is None or row.job in outside]
    for number in numbers:
        _undo(database, number, window)
    if outside:
        with database.writing() as session:
            for number in outside:
                store.fail(session, number, Unavailable("it ended in the middle, and was undone"), utc_now())
    return len(numbers)


def _undo(database: Database, number: int, return_window: int) -> None:
    more = True
    while more:
        with database.writing() as session:
            more = undo_some(session, number, return_window)
        database.yield_write_lock()


def _folder(database: Database) -> Path:
    return sibling(database.path, "brought")


def _file(task: _Importing) -> Path:
    return _folder(task.database) / task.question.file


def _lines(file: Path) -> Lines:
    with file.open("rb") as opened:
        yield from read_each(lines_of(opened))


def _forget_file(task: _Importing) -> None:
    if not task.is_outside:
        with suppress(OSError):
            _file(task).unlink(missing_ok=True)


def forget_files(database: Database) -> None:
    """Remove files that no job will log, such as those of a program that ended while one arrived. What is new may be
    arriving at another server of this desk, and stays."""
    oldest = time.time() - _ARRIVING_S
    with database.reading() as session:
        needed = {row.input["file"] for row in store.run_by_desk(session, _KIND)}
    for file in _folder(database).glob("*"):
        with suppress(OSError):
            if file.name not in needed and file.stat().st_mtime < oldest:
                file.unlink()


IMPORTING = JobKind(
    name=ImportQuestion.kind,
    work={ImportQuestion: _bring_in},
    undo=_undo_task,
    is_newest_first=False,
    niceness=0,
    # A lead who brings a file in is told that it could not be done, and brings it in again.
    max_tries=2,
    retries_errors=False,
    keeps_answers=False,
)
