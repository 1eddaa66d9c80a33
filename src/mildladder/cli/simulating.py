"""The command that lets months of the made-up desk go by."""

from collections.abc import Mapping, Sequence
from datetime import datetime, timedelta
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from mildladder.cli.common import data_folder, json_option, print_json, progress
from mildladder.clock import utc_now
from mildladder.core.errors import BadInput, Conflict

if TYPE_CHECKING:
    from flask.testing import FlaskClient

    from mildladder.core.model import Playbook
    from mildladder.core.model.events import EarlierCase
    from mildladder.store.database import Database

__all__ = ["simulate_command"]

_MONTH = timedelta(days=30)
_AGENT = "I. Vell"


@click.command("simulate")
@click.option("--months", type=click.FloatRange(0.1, 24), default=3.0, show_default=True, help="How many go by.")
@click.option("--cases", type=click.IntRange(1, 100_000), help="How many cases; else as many as the log has a month.")
@click.option("--playbook", "only", multiple=True, metavar="ID", help="Only this symptom; may stand several times.")
@click.option("--seed", type=click.IntRange(0, 2**31), default=1, show_default=True, help="Of the cases.")
@click.option("--db", type=click.Path(path_type=Path, dir_okay=False), help="The demo's database file.")
@json_option
def simulate_command(
    months: float, cases: int | None, only: tuple[str, ...], seed: int, db: Path | None, as_json: bool
) -> None:
    """Let months of the demo desk go by: its agents guide cases by the newest editions, against the demo's truth.

    The cases are dated from now on, as if the months had passed.
    """
    from mildladder.demo.ahead import Ahead, go_ahead
    from mildladder.demo.truth import TRUTHS
    from mildladder.store.database import Database

    began = utc_now()
    database = Database(db or data_folder() / "demo.db", lambda says: click.echo(says, err=True))
    try:
        playbooks, a_month = _followed(database, only, began)
        truths = {name: TRUTHS[name] for name in playbooks}
        count = cases or max(1, round(months * a_month))
        desk = _Desk(database, began)

        def history(symptom: str, unit: str | None) -> "Sequence[EarlierCase]":
            return _history(database, symptom, unit)

        ahead = Ahead(playbooks, truths, history, began, began + months * _MONTH)
        done = 0
        with progress("cases guided", is_quiet=as_json) as show:
            for done, _ in enumerate(go_ahead(ahead, count, desk, seed), start=1):
                show(done, count)
    finally:
        database.close()
    until = ahead.until.date().isoformat()
    if as_json:
        print_json({"cases": done, "until": until, "playbooks": sorted(playbooks)})
    else:
        click.echo(f"{done} cases were guided on {len(playbooks)} symptoms, the last of them before {until}")


def _followed(database: "Database", only: Sequence[str], at: datetime) -> "tuple[dict[str, Any], float]":
    """The newest editions of the demo's symptoms, and how many cases they have a month. Raises BadInput for a symptom
    of which no truth is known, and Conflict where nothing is published."""
    from mildladder.demo.truth import TRUTHS
    from mildladder.desk.advice.following import pace
    from mildladder.desk.documents import newest_editions

    for name in only:
        if name not in TRUTHS:
            raise BadInput(f"'{name}' is no symptom of the made-up desk: nobody knows what is behind its cases")
    with database.reading() as session:
        found = {name: one for name, one in newest_editions(session).items() if name in (only or TRUTHS)}
        a_month = sum(pace(session, name, at.date()).a_month for name in found)
    if not found:
        raise Conflict("nothing of that is published on this desk; agents have no ladder to follow")
    return found, a_month


def _history(database: "Database", symptom: str, unit: str | None) -> "Sequence[EarlierCase]":
    from mildladder.desk.guiding.climbs import history_of

    with database.reading() as session:
        return history_of(session, symptom, unit or "")


class _Desk:
    """The desk as a browser sees it, at whatever moment a case has come to."""

    def __init__(self, database: "Database", at: datetime) -> None:
        from mildladder.api.app import create_app

        self.at, self.keys, self.database = at, 0, database
        self.client: FlaskClient = create_app(database, now=lambda: self.at).test_client()
        people = self._sent("get", "/api/me")["people"]
        sits = next((one["id"] for one in people if one["name"] == _AGENT), people[-1]["id"])
        self._sent("put", "/api/me", {"person": sits})

    def start(self, playbook: str, started: Mapping[str, Any], at: datetime) -> "tuple[str, int, Playbook]":
        """The case that was opened, the number of its last event, and the ladder that it is guided by."""
        from uuid import uuid4

        from mildladder.desk.documents import document

        self.at, case = at, str(uuid4())
        began = self._sent("post", "/api/climbs", {"id": case, "playbook": playbook, "started": started})
        with self.database.reading() as session:
            return case, began["number"], document(session, playbook, began["edition"])

    def move(self, climb: str, after: int, move: Mapping[str, Any], at: datetime) -> int:
        """The number of the event that the move became."""
        self.at, self.keys = at, self.keys + 1
        sent = {"key": f"{climb}-{self.keys}", "after": after, "move": move}
        return int(self._sent("post", f"/api/climbs/{climb}/moves", sent)["number"])

    def _sent(self, method: str, path: str, body: Mapping[str, Any] | None = None) -> Any:
        answer = self.client.open(path, method=method.upper(), json=body)
        if answer.status_code >= 400:
            raise Conflict(str((answer.json or {}).get("detail", f"the desk answered {answer.status_code}")))
        return answer.json
