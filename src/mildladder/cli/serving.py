"""Commands that serve a desk on this machine."""

import gc
import threading
from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING

import click

from mildladder.cli.common import data_folder, db_option, progress
from mildladder.clock import utc_now

if TYPE_CHECKING:
    from mildladder.desk.work.workers import ServedWorkers
    from mildladder.store.database import Database

__all__ = ["demo_command", "serve_command"]

_HOST, _PORT = "127.0.0.1", 8474

host_option = click.option("--host", default=_HOST, show_default=True, help="A loopback address.")
port_option = click.option(
    "--port", type=click.IntRange(0, 65535), default=_PORT, show_default=True, help="0: any free one."
)

ahead_option = click.option(
    "--work-ahead/--no-work-ahead",
    default=True,
    show_default=True,
    help="Work out what to do next from the start, before anybody looks at the Desk.",
)


@click.command("serve")
@host_option
@port_option
@db_option
@ahead_option
def serve_command(host: str, port: int, db: Path | None, work_ahead: bool) -> None:
    """Serve the desk on this machine."""
    _serve(host, port, db or data_folder() / "desk.db", None, works_ahead=work_ahead)


@click.command("demo")
@host_option
@port_option
@click.option("--db", type=click.Path(path_type=Path, dir_okay=False), help="The demo's database file.")
@click.option("--cases", type=click.IntRange(0, 2_000_000), help="How many cases to make at first; 600.")
@ahead_option
def demo_command(host: str, port: int, db: Path | None, cases: int | None, work_ahead: bool) -> None:
    """Serve the made-up desk of Ostrel Ferries, filled at the first start."""
    from mildladder.demo.desk import CASES

    count = CASES if cases is None else cases
    _serve(host, port, db or data_folder() / "demo.db", count, cases is not None, works_ahead=work_ahead)


def _serve(
    host: str, port: int, path: Path, demo_cases: int | None, is_asked: bool = False, *, works_ahead: bool
) -> None:
    from mildladder.api.app import create_app
    from mildladder.api.server import listen, serve
    from mildladder.desk.log.batches import undo_unfinished
    from mildladder.desk.work.workers import ServedWorkers
    from mildladder.diagnostics.events import configure
    from mildladder.store.database import Database

    bound = listen(host, port)
    configure()
    database = Database(path, lambda says: click.echo(says, err=True))
    if demo_cases is not None and database.read_only is None:
        _fill(database, demo_cases, is_asked)
    if database.read_only is None:
        undo_unfinished(database)
    else:
        click.echo(f"this desk can only be read: {database.read_only}", err=True)
    workers = ServedWorkers(database)
    app = create_app(database, workers=workers)
    address = f"http://{host if ':' not in host else f'[{host}]'}:{bound.getsockname()[1]}/"
    click.echo(f"Mild Ladder is at {address} (database {path}); Ctrl+C stops it")
    try:
        if database.read_only is None:
            workers.start()
        ahead = workers if works_ahead and database.read_only is None else None
        threading.Thread(target=_make_ready, args=(database, ahead), name="make ready", daemon=True).start()
        serve(app, bound, workers.leave)
    finally:
        workers.close()
        database.close()


def _make_ready(database: "Database", ahead: "ServedWorkers | None") -> None:
    """Work the Desk out before anybody looks at it, while others are answered already, and what to do next where it is
    worked out ahead; what is loaded by then stays, and looking through it for garbage again and again would take a
    fifth of each answer's time."""
    from mildladder.desk.advice.nudging import nudges
    from mildladder.desk.home import symptoms

    # What cannot be read is told to whoever asks for it.
    with suppress(Exception), database.reading() as session:
        symptoms(session, utc_now().date())
    with suppress(Exception):
        if ahead is not None:
            nudges(database, ahead, utc_now())
    gc.collect()
    gc.freeze()


def _fill(database: "Database", count: int, is_asked: bool) -> None:
    from mildladder.demo.desk import fill, is_empty
    from mildladder.demo.multiply import SIMULATED, multiply

    at = utc_now()
    with database.writing() as session:
        if not is_empty(session):
            if is_asked:
                click.echo("the demo desk is there already and stays as it is; --db names another file", err=True)
            return
        done = fill(session, min(count, SIMULATED), at)
    left_out = f", {done.refused} lines of another system's export left out" if done.refused else ""
    made = done.read
    if count > SIMULATED:
        with progress("cases made") as show:
            made = multiply(database, count, at, lambda some: show(some, count))
    click.echo(f"made the demo desk: {made} cases{left_out}", err=True)
