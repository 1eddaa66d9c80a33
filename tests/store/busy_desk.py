"""A desk at work, in a process of its own: it tells each thing that was acknowledged, until it is killed."""

import sys
from datetime import timedelta
from itertools import count
from pathlib import Path

from mildladder.core.model import CaseLine
from mildladder.core.model import events as c
from mildladder.core.model.sending import SendEdit
from mildladder.desk.drafts.author import draft_form, send
from mildladder.desk.guiding import climbs
from mildladder.desk.log.batches import import_in_batches
from mildladder.desk.publishing.publish import publish
from mildladder.store.database import Database
from tests.conftest import AGENT_ID, LEAD_ID, SHELL
from tests.drafts import move
from tests.samples import NOON, case

ID = "gate-arm-up"


def told(what: str) -> None:
    sys.stdout.write(f"{what}\n")
    sys.stdout.flush()


def guide_and_save(database: Database) -> None:
    """Guided cases to their end, moves of the draft, editions: one after the other, each told once it is kept."""
    for number in count():
        name, at = f"climb-{number:05}", NOON + timedelta(minutes=number)
        with database.writing() as session:
            climbs.start(session, ID, c.Started(unit="GR4-1"), name, AGENT_ID, at)
        told(f"climb {name}")
        with database.writing() as session:
            climbs.record(session, name, c.Ended(end="abandoned"), f"key-{number:05}", 1, AGENT_ID, at)
            view = climbs.look(session, name, NOON)
        told(f"case {view.case}")
        with database.writing() as session:
            moved = move(session, 0, 1, LEAD_ID, at)
        told(f"revision {moved.number}")
        with database.writing() as session:
            edition = publish(session, ID, f"Edition of {number}", moved.number, LEAD_ID, at)
        told(f"edition {edition.number}")


def bring_in(database: Database) -> None:
    """One import after the other, each told once it is done."""
    for number in count():
        names = range(1000 * number, 1000 * number + 900)
        cases = [case(name, ("clear-hold", "fixed"), days_ago=name % 50, unit=f"GR4-{name % 40}") for name in names]
        cases.append(case(1, ("clear-hold", "no-change"), days_ago=number % 40))
        lines = [CaseLine(line, one) for line, one in enumerate(cases, start=1)]
        import_in_batches(
            database,
            lambda lines=lines: lines,
            SHELL,
            NOON,
            f"office-{number}.jsonl",
            True,
            show=lambda done, _of: told(f"logged {done}"),
        )
        told(f"import {number}")


def edit(database: Database) -> None:
    """Two pages of two people that write into one draft, each edit told once it is acknowledged."""
    with database.reading() as session:
        rungs = [rung["key"] for rung in draft_form(session, ID, None).form["ladder"]]
    had: dict[str, str | None] = {}
    for number in count(1):
        for client, who in (("pageofthelead", LEAD_ID), ("pageoftheagent", AGENT_ID)):
            key = rungs[(number + who) % len(rungs)]
            operation = {"op": "set", "key": key, "path": ["note"], "was": had.get(key), "value": f"{client} {number}"}
            body = SendEdit.model_validate(
                {
                    "client": client,
                    "number": number,
                    "base": 1,
                    "group": f"{client}-{number}",
                    "operations": [operation],
                }
            )
            send(database, ID, body, who, NOON + timedelta(minutes=number))
            had[key] = f"{client} {number}"
            told(f"edit {client}-{number}")


if __name__ == "__main__":
    desk = Database(Path(sys.argv[2]))
    {"guide": guide_and_save, "import": bring_in, "edit": edit}[sys.argv[1]](desk)
