"""The commands: each reads its arguments, calls a use case and prints; errors are one line and exit code 2.

Server and demo are imported by the commands that need them, so that the others start quickly.
"""

import json
import sys
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from itertools import groupby
from pathlib import Path
from typing import IO, Any, TypeVar, get_args

import click
import platformdirs

from mildladder.core.errors import BadInput, LadderError, Unavailable
from mildladder.core.figures.forecast import forecast
from mildladder.core.ladder.diff import compare
from mildladder.core.model import Playbook, Shape
from mildladder.core.ordering.blocks import Mode
from mildladder.core.review import links_of, review
from mildladder.desk.importing import (
    ImportPreview,
    PlaybookImported,
    StepChoice,
    check_batch,
    export_archive,
    export_playbook,
    import_cases,
    import_playbook,
    preview_import,
)
from mildladder.desk.ordering import curve_of, order_of
from mildladder.exchange.case_lines import read_each
from mildladder.exchange.located import MOST_BYTES
from mildladder.exchange.pictures import Picture, beside, is_archive, pictures_in, read_archive
from mildladder.exchange.playbook_file import playbook_schema, read_playbook, write_playbook
from mildladder.store.database import Database

__all__ = ["main"]

_NAME = "mild-ladder"
_HOST, _PORT = "127.0.0.1", 8474
_SHELL = "shell"
Result = TypeVar("Result", bound=Shape)
_MOST_ARCHIVE_BYTES = 40_000_000


def main() -> None:
    """Run one command; what a person can put right is told in one line on stderr, with exit code 2."""
    try:
        sys.exit(cli.main(prog_name=_NAME, standalone_mode=False))
    except click.exceptions.Abort:
        sys.exit(130)
    except click.ClickException as error:
        _fail(error.format_message())
    except LadderError as error:
        _fail(str(error))
    except BrokenPipeError:
        sys.exit(0)


def _fail(says: str) -> None:
    click.echo(f"{_NAME}: {' '.join(says.split())}", err=True)
    sys.exit(2)


def data_folder() -> Path:
    """Where a user's databases are kept when no path is given."""
    return Path(platformdirs.user_data_dir(_NAME, appauthor=False))


db_option = click.option(
    "--db", type=click.Path(path_type=Path, dir_okay=False), help="The database file; default: in your data folder."
)
json_option = click.option("--json", "as_json", is_flag=True, help="Print one JSON document on stdout.")
who_option = click.option("--who", default=_SHELL, show_default=True, help="The name that the change carries.")
host_option = click.option("--host", default=_HOST, show_default=True, help="A loopback address.")
port_option = click.option(
    "--port", type=click.IntRange(0, 65535), default=_PORT, show_default=True, help="0: any free one."
)


@click.group()
@click.version_option(package_name=_NAME)
def cli() -> None:
    """Guided troubleshooting playbooks: order fixes by risk and effort, and measure what resolves."""


@cli.command("forecast")
@click.argument("file", type=click.File("rb"))
@json_option
def forecast_command(file: IO[bytes], as_json: bool) -> None:
    """Work out the figures of the ladder in playbook FILE."""
    playbook = _read(file)
    figures = forecast(playbook)
    if as_json:
        _print_json(figures.model_dump(mode="json"))
        return
    click.echo(f"{playbook.title}: {figures.effort:.1f} effort minutes and {figures.harm:.2f} harm points a case")
    ends = (
        f"{figures.resolved:.1%} resolved", f"{figures.worked_around:.1%} worked around",
        f"{figures.handed_off:.1%} handed off", f"{figures.elapsed:.1f} minutes on the clock",
    )  # fmt: skip
    click.echo(", ".join(ends))
    for number, rung in enumerate(figures.rungs, start=1):
        ended = rung.resolved + rung.worked_around
        click.echo(f"{number:3} {playbook.step(rung.step).title}: comes up in {rung.reach:.1%}, ends {ended:.1%}")


@cli.command("order")
@click.argument("file", type=click.File("rb"))
@click.option("--mode", type=click.Choice(["mildest", "balanced"]), help="Instead of the playbook's own.")
@click.option("--rate", type=click.FloatRange(0, 1e6), help="Effort minutes that avoiding one harm point is worth.")
@json_option
def order_command(file: IO[bytes], mode: Mode | None, rate: float | None, as_json: bool) -> None:
    """Find the best order of the ladder in playbook FILE, with its reasons."""
    playbook = _read(file)
    best = order_of(playbook, mode, rate)
    if as_json:
        _print_json(best.model_dump(mode="json"))
        return
    proof = "no order is better" if best.exact else f"no order is better by more than {best.gap:.1%}"
    click.echo(f"{best.effort:.2f} effort minutes and {best.harm:.3f} harm points a case; {proof}")
    for number, why in enumerate(best.why, start=1):
        click.echo(f"{number:3} {playbook.step(why.step).title}\n    {why.says}")
    for step in best.left_out:
        click.echo(f"    {playbook.step(step).title}: optional, and left out")
    if best.hand_off_after:
        title = playbook.step(best.hand_off_after.step).title
        click.echo(f"Handing off after “{title}” would save {best.hand_off_after.saves:.2f} a case")


@cli.command("curve")
@click.argument("file", type=click.File("rb"))
@json_option
def curve_command(file: IO[bytes], as_json: bool) -> None:
    """Show the best orders of playbook FILE from quickest to mildest, and where the draft stands."""
    playbook = _read(file)
    made = curve_of(playbook)
    if as_json:
        _print_json(made.model_dump(mode="json"))
        return
    for point in (*made.points, *([made.mildest] if made.mildest else []), made.draft):
        click.echo(f"{point.effort:8.2f} effort minutes {point.harm:8.3f} harm points   {point.says}")
        click.echo(f"         {', '.join(point.order)}")


@cli.command("review")
@click.argument("files", metavar="FILE...", type=click.File("rb"), nargs=-1, required=True)
@json_option
def review_command(files: tuple[IO[bytes], ...], as_json: bool) -> None:
    """Read playbook FILE as a careful colleague would; with several, links between them count too.

    Exit code 1 when a blocker stands.
    """
    playbooks = [_read(file) for file in files]
    known = {playbook.id: links_of(playbook) for playbook in playbooks} if len(playbooks) > 1 else None
    made = [(playbook, review(playbook, known)) for playbook in playbooks]
    if as_json:
        shown = [{"findings": [one.model_dump(mode="json") for one in findings]} for _, findings in made]
        _print_json(shown[0] if len(shown) == 1 else shown)
    else:
        for playbook, findings in made:
            click.echo(f"{playbook.title}: {'nothing to say' if not findings else f'{len(findings)} findings'}")
            for one in findings:
                click.echo(f"  {one.level} {one.code}, {one.where}: {one.says}")
    if any(one.level == "blocker" for _, findings in made for one in findings):
        sys.exit(1)


@cli.command("diff")
@click.argument("before", type=click.File("rb"))
@click.argument("after", type=click.File("rb"))
@json_option
def diff_command(before: IO[bytes], after: IO[bytes], as_json: bool) -> None:
    """Say what changed from playbook file BEFORE to AFTER, in sentences."""
    made = compare(_read(before), _read(after))
    if as_json:
        _print_json(made.model_dump(mode="json"))
        return
    for group, sentences in groupby(made.sentences, key=lambda one: one.group):
        click.echo(group.capitalize())
        for one in sentences:
            click.echo(f"  {one.says}")
    if not made.sentences:
        click.echo("They are equal.")
        return
    for name, unit in (("effort", "effort minutes"), ("harm", "harm points"), ("resolved", "resolved")):
        was, now = getattr(made.before, name), getattr(made.after, name)
        click.echo(f"{unit} a case: {was:.3f} before, {now:.3f} after")


@cli.command("schema")
@click.argument("what", type=click.Choice(["playbook", "api"]))
def schema_command(what: str) -> None:
    """Print the JSON Schema of the playbook file, or the OpenAPI document of the API."""
    from mildladder.api.app import openapi_document

    _print_json(playbook_schema() if what == "playbook" else openapi_document())


@cli.group("import")
def import_group() -> None:
    """Bring a playbook or cases in."""


@import_group.command("playbook")
@click.argument("files", type=click.File("rb"), nargs=-1, required=True)
@click.option(
    "--steps",
    type=click.Choice(["library", "file", "copy"]),
    help="What to do with steps that the library has with another text.",
)
@click.option("--step", "each", multiple=True, metavar="ID=WAY", help="The same for one step; may stand several times.")
@click.option("--preview", is_flag=True, help="Say what would change, and change nothing.")
@click.option("--publish", "note", metavar="NOTE", help="Publish it as an edition with this note.")
@who_option
@db_option
@json_option
def import_playbook_command(
    files: tuple[IO[bytes], ...],
    steps: StepChoice | None,
    each: tuple[str, ...],
    preview: bool,
    note: str | None,
    who: str,
    db: Path | None,
    as_json: bool,
) -> None:
    """Make each playbook FILE the draft of its symptom: all of them, or none when one cannot be."""
    brought = [(file.name, *_read_with_pictures(file)) for file in files]
    check_batch([(name, playbook) for name, playbook, _ in brought])
    if preview:
        with _database(db) as database, database.reading() as session:
            _show_each([preview_import(session, playbook) for _, playbook, _ in brought], as_json, _preview_in_words)
        return
    with _database(db) as database, database.writing() as session:
        done = [
            import_playbook(session, playbook, who, _now(), steps, note, _each(each), pictures)
            for _, playbook, pictures in brought
        ]
    _show_each(done, as_json, _import_in_words)


def _show_each(results: list[Result], as_json: bool, in_words: Callable[[Result], str]) -> None:
    """One result as itself, several as a list."""
    if as_json:
        made = [result.model_dump(mode="json") for result in results]
        _print_json(made[0] if len(made) == 1 else made)
        return
    for result in results:
        click.echo(in_words(result))


def _import_in_words(done: PlaybookImported) -> str:
    state = "was the draft already" if done.is_unchanged else f"is the draft now, revision {done.revision}"
    counts = f"{len(done.new)} new steps, {len(done.linked)} known, {len(done.changed)} changed"
    lines = [f"{done.playbook} {state}: {counts}"]
    lines += [f"  {old} became {new}" for old, new in done.copied.items()]
    if done.edition is not None:
        lines.append(f"published as edition {done.edition}")
    return "\n".join(lines)


def _preview_in_words(preview: ImportPreview) -> str:
    state = "would be new" if preview.is_new else "is the same already" if preview.is_unchanged else "would be replaced"
    lines = [f"{preview.playbook}: the draft {state}; {len(preview.new)} new steps, {len(preview.linked)} known"]
    for clash in preview.clashes:
        used = f", used in {', '.join(clash.used_in)}" if clash.used_in else ""
        lines.append(f"  {clash.step} differs in {', '.join(clash.keys)}{used}")
    return "\n".join(lines)


def _each(pairs: tuple[str, ...]) -> dict[str, StepChoice]:
    chosen: dict[str, StepChoice] = {}
    for pair in pairs:
        step, _, way = pair.partition("=")
        if way not in get_args(StepChoice):
            raise click.BadParameter(f"'{pair}' is not ID=library, ID=file or ID=copy", param_hint="--step")
        chosen[step] = way  # type: ignore[assignment]
    return chosen


@import_group.command("cases")
@click.argument("file", type=click.File("rb"))
@click.option("--leave-out", is_flag=True, help="Log what can be read, and list the lines that cannot.")
@who_option
@db_option
@json_option
def import_cases_command(file: IO[bytes], leave_out: bool, who: str, db: Path | None, as_json: bool) -> None:
    """Log the cases of JSON Lines FILE: all of them, or none when one cannot be read."""
    with _database(db) as database, database.writing() as session:
        done = import_cases(session, read_each(file), "import", who, _now(), Path(file.name).name, leave_out)
    if as_json:
        _print_json(done.model_dump(mode="json"))
        return
    click.echo(f"{done.read} cases read: {done.new} new, {done.updated} updated, {done.unchanged} known already")
    for line in done.reasons:
        click.echo(f"left out: {': '.join(part for part in (f'line {line.line}', line.path, line.says) if part)}")
    if done.refused > len(done.reasons):
        click.echo(f"left out: {done.refused - len(done.reasons):,} more")


@cli.group("export")
def export_group() -> None:
    """Take a playbook out."""


@export_group.command("playbook")
@click.argument("playbook_id", metavar="ID")
@click.option("--draft", "from_draft", is_flag=True, help="The draft, not the newest edition.")
@click.option("--archive", type=click.File("wb"), help="Write file and pictures into one archive.")
@db_option
@json_option
def export_playbook_command(
    playbook_id: str, from_draft: bool, archive: IO[bytes] | None, db: Path | None, as_json: bool
) -> None:
    """Print playbook ID as a playbook file."""
    with _database(db) as database, database.reading() as session:
        if archive is not None:
            archive.write(export_archive(session, playbook_id, from_draft))
            return
        playbook = export_playbook(session, playbook_id, from_draft)
    if as_json:
        _print_json(playbook.model_dump(mode="json", by_alias=True, exclude_unset=True))
    else:
        click.echo(write_playbook(playbook), nl=False)


@cli.command("serve")
@host_option
@port_option
@db_option
def serve_command(host: str, port: int, db: Path | None) -> None:
    """Serve the desk on this machine."""
    _serve(host, port, db or data_folder() / "desk.db", None)


@cli.command("demo")
@host_option
@port_option
@click.option("--db", type=click.Path(path_type=Path, dir_okay=False), help="The demo's database file.")
@click.option("--cases", type=click.IntRange(0, 2_000_000), help="How many cases to make at first; 600.")
def demo_command(host: str, port: int, db: Path | None, cases: int | None) -> None:
    """Serve the made-up desk of Ostrel Ferries, filled at the first start."""
    from mildladder.demo.desk import CASES

    _serve(host, port, db or data_folder() / "demo.db", CASES if cases is None else cases, cases is not None)


def _serve(host: str, port: int, path: Path, demo_cases: int | None, is_asked: bool = False) -> None:
    from mildladder.api.app import create_app
    from mildladder.api.server import listen, serve

    bound = listen(host, port)
    database = Database(path)
    if demo_cases is not None:
        _fill(database, demo_cases, is_asked)
    app = create_app(database)
    address = f"http://{host if ':' not in host else f'[{host}]'}:{bound.getsockname()[1]}/"
    click.echo(f"Mild Ladder is at {address} (database {path}); Ctrl+C stops it")
    try:
        serve(app, bound)
    finally:
        database.close()


def _fill(database: Database, count: int, is_asked: bool) -> None:
    from mildladder.demo.desk import fill, is_empty

    with database.writing() as session:
        if is_empty(session):
            done = fill(session, count, _now())
            left_out = f", {done.refused} lines of another system's export left out" if done.refused else ""
            click.echo(f"made the demo desk: {done.read} cases{left_out}", err=True)
        elif is_asked:
            click.echo("the demo desk is there already and stays as it is; --db names another file", err=True)


@contextmanager
def _database(path: Path | None) -> Iterator[Database]:
    database = Database(path or data_folder() / "desk.db")
    try:
        yield database
    finally:
        database.close()


def _read(file: IO[bytes]) -> Playbook:
    raw = file.read(MOST_BYTES + 1)
    _refuse_large(raw, MOST_BYTES, file.name)
    return read_playbook(raw, file.name)


def _read_with_pictures(file: IO[bytes]) -> tuple[Playbook, dict[str, Picture]]:
    """A playbook file with the pictures beside it, or an archive of both."""
    raw = file.read(_MOST_ARCHIVE_BYTES + 1)
    if not is_archive(raw):
        _refuse_large(raw, MOST_BYTES, file.name)
        playbook = read_playbook(raw, file.name)
        return playbook, beside(playbook, Path(file.name)) if file.name != "<stdin>" else {}
    _refuse_large(raw, _MOST_ARCHIVE_BYTES, file.name)
    inner, name, files = read_archive(raw, file.name)
    source = f"{file.name}/{name}"
    playbook = read_playbook(inner, source)
    return playbook, pictures_in(playbook, files, source)


def _refuse_large(raw: bytes, most: int, source: str) -> None:
    if len(raw) > most:
        raise BadInput(f"the file has more than {most:,} bytes, which is the most that is read", source=source)


def _now() -> datetime:
    return datetime.now(UTC)


def _print_json(data: Any) -> None:
    try:
        click.echo(json.dumps(data, ensure_ascii=False, indent=2))
    except OSError as error:
        raise Unavailable(f"the output cannot be written: {error}") from error


if __name__ == "__main__":
    main()
