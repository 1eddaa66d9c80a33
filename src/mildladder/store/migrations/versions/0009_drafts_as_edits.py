"""Keep a draft as its edits instead of whole documents, with its history and all that undo can take back."""

import json
import secrets
import zlib
from collections.abc import Iterator
from typing import Any

import sqlalchemy as sa
from alembic import op

from mildladder.store.migrations.drafts_0009.apply import Applied, Stamp, apply
from mildladder.store.migrations.drafts_0009.difference import difference
from mildladder.store.migrations.drafts_0009.form import Keys, form_of, keys_from, plainly_said

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None

_EVERY = 200
# Under this key a stored document says of which shape it is; until now there was one of each.
_SHAPE = "shape"


def upgrade() -> None:
    op.rename_table("revisions", "old_revisions")
    op.create_table(
        "revisions",
        sa.Column("playbook_id", sa.String(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("client", sa.String(), nullable=False),
        sa.Column("sent", sa.Integer(), nullable=False),
        sa.Column("group", sa.String(), nullable=False),
        sa.Column("undoes", sa.String(), nullable=True),
        sa.Column("label", sa.String(), nullable=False),
        sa.Column("at", sa.String(), nullable=False),
        sa.Column("done", sa.String(), nullable=False),
        sa.Column("inverse", sa.String(), nullable=False),
        sa.Column("who", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(["playbook_id"], ["playbooks.id"], name="fk_revisions_playbook_id"),
        sa.ForeignKeyConstraint(["who"], ["people.id"], name="fk_revisions_who"),
        sa.PrimaryKeyConstraint("playbook_id", "number", name="pk_revisions"),
        sa.UniqueConstraint("playbook_id", "client", "sent", name="uq_revisions_playbook_id_client_sent"),
    )
    op.create_index("ix_revisions_playbook_id_who", "revisions", ["playbook_id", "who"])
    op.create_table(
        "forms",
        sa.Column("playbook_id", sa.String(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("form", sa.LargeBinary(), nullable=False),
        sa.ForeignKeyConstraint(["playbook_id"], ["playbooks.id"], name="fk_forms_playbook_id_playbooks"),
        sa.PrimaryKeyConstraint("playbook_id", "number", name="pk_forms"),
    )
    op.create_table(
        "draft_clients",
        sa.Column("playbook_id", sa.String(), nullable=False),
        sa.Column("client", sa.String(), nullable=False),
        sa.Column("who", sa.Integer(), nullable=False),
        sa.Column("next", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(["playbook_id"], ["playbooks.id"], name="fk_draft_clients_playbook_id_playbooks"),
        sa.ForeignKeyConstraint(["who"], ["people.id"], name="fk_draft_clients_who_people"),
        sa.PrimaryKeyConstraint("playbook_id", "client", name="pk_draft_clients"),
    )
    connection = op.get_bind()
    _say_library_plainly(connection)
    for (playbook_id,) in connection.execute(sa.text("SELECT id FROM playbooks ORDER BY id")).all():
        _bring_over(connection, playbook_id)
    op.drop_table("old_revisions")


def _say_library_plainly(connection: sa.Connection) -> None:
    """Texts of the library as a draft says them: compared with one, they must not differ in what says nothing."""
    rest = {"format": "", "id": "", "title": "", "symptom": {}, "causes": [], "ladder": []}
    for step_id, version, shared in connection.execute(
        sa.text("SELECT step_id, version, shared FROM library_steps")
    ).all():
        (said,) = plainly_said({**rest, "steps": [json.loads(shared)]})["steps"]
        connection.execute(
            sa.text("UPDATE library_steps SET shared = :shared WHERE step_id = :step_id AND version = :version"),
            {"shared": json.dumps(said, ensure_ascii=False), "step_id": step_id, "version": version},
        )


def _bring_over(connection: sa.Connection, playbook_id: str) -> None:
    """A draft's documents, one after the other, as edits: each is what changed from the one before."""
    new_key = keys_from(secrets.randbelow)
    published = {
        number
        for (number,) in connection.execute(
            sa.text("SELECT revision FROM editions WHERE playbook_id = :id"), {"id": playbook_id}
        )
    }
    root: dict[str, Any] | None = None
    groups: list[_Old] = []
    inverses: dict[int, list[dict[str, Any]]] = {}
    for row in _old_rows(connection, playbook_id):
        document = _without_its_shape(json.loads(row["document"]))
        number, done, inverse = row["number"], [], []
        groups.append(_Old(number, row["restores"], row["upon"]))
        if root is None:
            root = form_of(document, new_key)
        else:
            stamp = Stamp("earlier", number, row["who"], row["at"])
            applied = _became(root, document, inverses.get(_undoes(groups) or 0), stamp, new_key)
            root, done, inverse = applied.root, applied.done, applied.inverse
            inverses[number] = inverse
        _put(connection, playbook_id, row, done, inverse, groups[-1].undoes)
        if len(groups) == 1 or number % _EVERY == 0 or number in published:
            packed = zlib.compress(json.dumps({_SHAPE: 1, **root}, ensure_ascii=False).encode())
            connection.execute(
                sa.text("INSERT INTO forms (playbook_id, number, form) VALUES (:id, :number, :form)"),
                {"id": playbook_id, "number": number, "form": packed},
            )


def _without_its_shape(stored: dict[str, Any]) -> dict[str, Any]:
    return {name: value for name, value in stored.items() if name != _SHAPE}


def _became(
    root: dict[str, Any],
    document: dict[str, Any],
    inverse: list[dict[str, Any]] | None,
    stamp: Stamp,
    new_key: Keys,
) -> Applied:
    """The edit that leads to a document: what was undone is undone as it was done, where that comes to the same."""
    if inverse:
        undone = apply(root, inverse, stamp, is_undo=True)
        if not undone.conflicts and not difference(undone.root, document, new_key):
            return undone
    return apply(root, difference(root, document, new_key), stamp)


def _old_rows(connection: sa.Connection, playbook_id: str) -> Iterator[dict[str, Any]]:
    numbers = connection.execute(
        sa.text("SELECT number FROM old_revisions WHERE playbook_id = :id ORDER BY number"), {"id": playbook_id}
    ).all()
    for (number,) in numbers:
        row = connection.execute(
            sa.text("SELECT * FROM old_revisions WHERE playbook_id = :id AND number = :number"),
            {"id": playbook_id, "number": number},
        ).mappings()
        yield dict(row.one())


class _Old:
    """An old revision: which edit's document it held (its own, unless undo or redo brought one back), upon which."""

    def __init__(self, number: int, restores: int | None, upon: int | None) -> None:
        self.number, self.restores, self.upon = number, restores, upon
        self.undoes: int | None = None

    @property
    def edit(self) -> int:
        return self.number if self.restores is None else self.restores


def _undoes(rows: list[_Old]) -> int | None:
    """What the last of the revisions took back: an edit, or, for a redo, the undoing of one."""
    last = rows[-1]
    if last.restores is None or len(rows) == 1:
        return None
    by_number = {row.number: row for row in rows}
    before = rows[-2].edit
    if before in by_number and by_number[before].upon == last.restores:
        last.undoes = before
    else:
        taken_back = [row.number for row in rows[:-1] if row.undoes == last.restores]
        last.undoes = taken_back[-1] if taken_back else None
    return last.undoes


def _put(
    connection: sa.Connection,
    playbook_id: str,
    row: dict[str, Any],
    done: list[dict[str, Any]],
    inverse: list[dict[str, Any]],
    undoes: int | None,
) -> None:
    connection.execute(
        sa.text(
            'INSERT INTO revisions (playbook_id, number, client, sent, "group", undoes, label, at, done, inverse, who)'
            " VALUES (:playbook_id, :number, 'earlier', :number, :group, :undoes, :label, :at, :done, :inverse, :who)"
        ),
        {
            "playbook_id": playbook_id,
            "number": row["number"],
            "group": f"earlier-{row['number']}",
            "undoes": None if undoes is None else f"earlier-{undoes}",
            "label": row["label"],
            "at": row["at"],
            "done": json.dumps(done, ensure_ascii=False),
            "inverse": json.dumps(inverse, ensure_ascii=False),
            "who": row["who"],
        },
    )


def downgrade() -> None:
    raise NotImplementedError("a draft that is kept as edits is not made documents again")
