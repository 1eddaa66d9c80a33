"""Commands that move playbooks and cases in and out of a desk."""

from collections.abc import Callable, Iterator
from pathlib import Path
from tempfile import TemporaryFile
from typing import IO, TYPE_CHECKING

import click

from mildladder.cli.common import (
    SHELL,
    db_option,
    json_option,
    open_database,
    print_json,
    progress,
    read_each,
    refuse_disagreements,
    refuse_large,
    show_each,
    who_option,
)
from mildladder.clock import utc_now

if TYPE_CHECKING:
    from sqlalchemy.orm import Session

    from mildladder.core.model import CaseLine, RefusedLine
    from mildladder.desk.publishing.clashes import Absent, Alike, ImportPreview, StepChoice
    from mildladder.desk.publishing.files import PlaybookImported
    from mildladder.exchange.pictures import Picture
    from mildladder.exchange.playbook_file import PlaybookFile

__all__ = ["export_group", "import_group"]

_MOST_ARCHIVE_BYTES = 40_000_000
_WAYS = ("library", "file", "copy")


@click.group("import")
def import_group() -> None:
    """Bring a playbook or cases in."""


@import_group.command("playbook")
@click.argument("files", type=click.File("rb"), nargs=-1, required=True)
@click.option(
    "--steps",
    type=click.Choice(_WAYS),
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
    steps: "StepChoice | None",
    each: tuple[str, ...],
    preview: bool,
    note: str | None,
    who: str,
    db: Path | None,
    as_json: bool,
) -> None:
    """Make each playbook FILE the draft of its symptom: all of them, or none when one cannot be."""
    from mildladder.desk.library.recounting import RECOUNTING
    from mildladder.desk.people import named
    from mildladder.desk.publishing.clashes import preview_import
    from mildladder.desk.publishing.files import Brought, import_batch
    from mildladder.desk.work.kinds import run_waiting

    chosen = _each(each)
    read = read_each(files, _read_with_pictures)
    named_files = [(file.name, one) for file, (one, _) in zip(files, read, strict=True)]
    refuse_disagreements(named_files, lambda step: steps is not None or step in chosen)
    if preview:
        batch = [file.playbook for file, _ in read]
        with open_database(db) as database, database.reading() as session:
            show_each([preview_import(session, one, batch) for one in batch], as_json, _preview_in_words)
        return
    at = utc_now()

    def _bring(session: "Session") -> "list[PlaybookImported]":
        by = named(session, who, at)
        batch = [Brought(file.playbook, pictures, file.wrong) for file, pictures in read]
        return import_batch(session, batch, by, at, steps, note, chosen)

    with open_database(db) as database:
        done = database.change(_bring)
        run_waiting(database, RECOUNTING.name)
    show_each(done, as_json, _import_in_words)


def _import_in_words(done: "PlaybookImported") -> str:
    state = "was the draft already" if done.is_unchanged else f"is the draft now, revision {done.revision}"
    counts = f"{len(done.new)} new steps, {len(done.linked)} known, {len(done.changed)} changed"
    lines = [f"{done.playbook} {state}: {counts}"]
    lines += [f"  {old} became {new}" for old, new in done.copied.items()]
    lines += _alike_in_words(done.alike) + _absent_in_words(done.absent)
    if done.edition is not None:
        lines.append(f"published as edition {done.edition}")
    return "\n".join(lines)


def _preview_in_words(preview: "ImportPreview") -> str:
    state = "would be new" if preview.is_new else "is the same already" if preview.is_unchanged else "would be replaced"
    lines = [f"{preview.playbook}: the draft {state}; {len(preview.new)} new steps, {len(preview.linked)} known"]
    for clash in preview.clashes:
        used = f", used in {', '.join(clash.used_in)}" if clash.used_in else ""
        lines.append(f"  {clash.step} differs in {', '.join(clash.keys)}{used}")
    lines += _alike_in_words(preview.alike) + _absent_in_words(preview.absent)
    return "\n".join(lines)


def _alike_in_words(steps: "tuple[Alike, ...]") -> list[str]:
    return [
        f"  {one.step} is word for word what the library has as {one.known_as}: give it that id to count them as one"
        for one in steps
    ]


def _absent_in_words(playbooks: "tuple[Absent, ...]") -> list[str]:
    return [
        f"  {one.path} names the playbook {one.playbook}, which nobody has: bring it too; until then a case that would"
        " go there is offered the default team"
        for one in playbooks
    ]


def _each(pairs: tuple[str, ...]) -> "dict[str, StepChoice]":
    chosen: dict[str, StepChoice] = {}
    for pair in pairs:
        step, _, way = pair.partition("=")
        if way not in _WAYS:
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
    from mildladder.core.errors import Stopped, Unavailable
    from mildladder.desk.log.batches import import_in_batches
    from mildladder.desk.people import named

    at = utc_now()
    with open_database(db) as database:
        with database.writing() as session:
            by = named(session, who, at)
        read, of = _reader(file)
        try:
            with progress("cases logged", is_quiet=as_json) as show:
                done = import_in_batches(database, read, by, at, Path(file.name).name, leave_out, of, show)
        except Stopped:
            raise Unavailable("somebody at the desk has cancelled this import; nothing of it is logged") from None
    if as_json:
        print_json(done.model_dump(mode="json"))
        return
    click.echo(f"{done.read} cases read: {done.new} new, {done.updated} updated, {done.unchanged} known already")
    for line in done.reasons:
        click.echo(f"left out: {': '.join(part for part in (f'line {line.line}', line.path, line.says) if part)}")
    if done.refused > len(done.reasons):
        click.echo(f"left out: {done.refused - len(done.reasons):,} more")


def _reader(file: IO[bytes]) -> "tuple[Callable[[], Iterator[CaseLine | RefusedLine]], int]":
    """Reads the file from its beginning each time that it is called, and how many lines there are; what comes through a
    pipe is kept aside first."""
    from mildladder.exchange.case_lines import lines_of, read_each

    whole = file
    if not file.seekable():
        whole = TemporaryFile()  # noqa: SIM115
        whole.writelines(lines_of(file))

    def read() -> "Iterator[CaseLine | RefusedLine]":
        whole.seek(0)
        return read_each(lines_of(whole))

    whole.seek(0)
    return read, sum(1 for _ in lines_of(whole))


@click.group("export")
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
    from mildladder.desk.people import named
    from mildladder.desk.publishing.files import draft_to_export, export_archive, export_playbook
    from mildladder.exchange.playbook_file import write_playbook

    at = utc_now()
    with open_database(db) as database:
        if from_draft:
            draft_to_export(database, playbook_id, lambda session: named(session, SHELL, at), at)
        with database.reading() as session:
            if archive is not None:
                archive.write(export_archive(session, playbook_id, from_draft))
                return
            playbook = export_playbook(session, playbook_id, from_draft)
    if as_json:
        print_json(playbook.model_dump(mode="json", by_alias=True, exclude_unset=True))
    else:
        click.echo(write_playbook(playbook), nl=False)


def _read_with_pictures(file: IO[bytes]) -> "tuple[PlaybookFile, dict[str, Picture]]":
    """A playbook file with the pictures beside it, or an archive of both."""
    from mildladder.exchange.located import MOST_BYTES
    from mildladder.exchange.pictures import beside, is_archive, pictures_in, read_archive
    from mildladder.exchange.playbook_file import read_playbook_file

    raw = file.read(_MOST_ARCHIVE_BYTES + 1)
    if not is_archive(raw):
        refuse_large(raw, MOST_BYTES, file.name)
        read = read_playbook_file(raw, file.name)
        return read, beside(read.playbook, Path(file.name)) if file.name != "<stdin>" else {}
    refuse_large(raw, _MOST_ARCHIVE_BYTES, file.name)
    inner, name, files = read_archive(raw, file.name)
    source = f"{file.name}/{name}"
    read = read_playbook_file(inner, source)
    return read, pictures_in(read.playbook, files, source)
