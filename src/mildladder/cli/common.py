"""What the commands share: options, reading files, opening the database, printing."""

import json
import sys
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import IO, TYPE_CHECKING, Any, TypeVar

import click

from mildladder.core.errors import BadInput, LadderError, Unavailable, raise_all

if TYPE_CHECKING:
    from mildladder.core.model import Shape
    from mildladder.exchange.playbook_file import PlaybookFile
    from mildladder.store.database import Database

__all__ = [
    "NAME",
    "SHELL",
    "data_folder",
    "db_option",
    "json_option",
    "open_database",
    "print_json",
    "progress",
    "read_each",
    "read_playbook_file",
    "refuse_disagreements",
    "refuse_large",
    "show_each",
    "who_option",
]

NAME = "mild-ladder"
SHELL = "shell"
Result = TypeVar("Result", bound="Shape")
Read = TypeVar("Read")


def data_folder() -> Path:
    """Where a user's databases are kept when no path is given."""
    import platformdirs

    return Path(platformdirs.user_data_dir(NAME, appauthor=False))


db_option = click.option(
    "--db", type=click.Path(path_type=Path, dir_okay=False), help="The database file; default: in your data folder."
)
json_option = click.option("--json", "as_json", is_flag=True, help="Print one JSON document on stdout.")
who_option = click.option("--who", default=SHELL, show_default=True, help="The name that the change carries.")


@contextmanager
def open_database(path: Path | None) -> Iterator["Database"]:
    """The database of that path, or of the user's data folder; closed afterwards."""
    from mildladder.store.database import Database

    database = Database(path or data_folder() / "desk.db", lambda says: click.echo(says, err=True))
    try:
        yield database
    finally:
        database.close()


def read_playbook_file(file: IO[bytes]) -> "PlaybookFile":
    """The playbook in a file, and where in it each part stands. Raises BadInput."""
    from mildladder.exchange import playbook_file
    from mildladder.exchange.located import MOST_BYTES

    raw = file.read(MOST_BYTES + 1)
    refuse_large(raw, MOST_BYTES, file.name)
    return playbook_file.read_playbook_file(raw, file.name)


def read_each(files: Sequence[IO[bytes]], read: Callable[[IO[bytes]], Read]) -> list[Read]:
    """Every file as `read` reads it. Raises what is wrong with any of them, all at once."""
    made: list[Read] = []
    wrong: list[LadderError] = []
    for file in files:
        try:
            made.append(read(file))
        except LadderError as error:
            wrong.append(error)
    raise_all(wrong)
    return made


def refuse_disagreements(
    files: Sequence[tuple[str, "PlaybookFile"]], is_settled: Callable[[str], bool] = lambda _: False
) -> None:
    """Raises for each thing that files, given with their names, say differently, all at once, where it stands."""
    from mildladder.core.ladder.agreement import disagreements

    found = disagreements([(name, file.playbook) for name, file in files], is_settled)
    raise_all([files[one.at][1].wrong(one.path, one.says) for one in found])


def refuse_large(raw: bytes, most: int, source: str) -> None:
    """Raises BadInput for more bytes than are read."""
    if len(raw) > most:
        raise BadInput(f"the file has more than {most:,} bytes, which is the most that is read", source=source)


def show_each(results: list[Result], as_json: bool, in_words: Callable[[Result], str]) -> None:
    """One result as itself, several as a list."""
    if as_json:
        made = [result.model_dump(mode="json") for result in results]
        print_json(made[0] if len(made) == 1 else made)
        return
    for result in results:
        click.echo(in_words(result))


@contextmanager
def progress(what: str, is_quiet: bool = False) -> Iterator[Callable[[int, int | None], None]]:
    """Tells a terminal how much is done, and of how much."""
    if is_quiet or not sys.stderr.isatty():
        yield lambda _done, _of: None
        return
    with click.progressbar(length=1, label=what, file=sys.stderr, show_pos=True) as bar:

        def _show(done: int, of: int | None) -> None:
            bar.length = max(of or done, 1)
            bar.update(done - bar.pos)

        yield _show


def print_json(data: Any) -> None:
    """Print one JSON document. Raises Unavailable when it cannot be written."""
    try:
        click.echo(json.dumps(data, ensure_ascii=False, indent=2))
    except OSError as error:
        raise Unavailable(f"the output cannot be written: {error}") from error
