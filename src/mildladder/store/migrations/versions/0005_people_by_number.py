"""Say who by a person's number everywhere, with whoever is no person of the desk kept as one from outside.

Revision 0004 kept names. Merges, people, facts and settings also learn who and when; what is older says nobody.
"""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None

_NAMED = ("revisions", "editions", "library_steps", "cases", "climbs", "refused_lines")
_SHELL = "shell"


def upgrade() -> None:
    with op.batch_alter_table("people") as batch:
        batch.add_column(_nobody("people"))
    _take_on_from_outside()
    for table in _NAMED:
        _number(table)
    with op.batch_alter_table("climb_events") as batch:
        batch.add_column(sa.Column("who", sa.Integer(), nullable=True))
    _number_events()
    with op.batch_alter_table("climb_events") as batch:
        batch.alter_column("who", existing_type=sa.Integer(), nullable=False)
        batch.create_foreign_key(op.f("fk_climb_events_who"), "people", ["who"], ["id"])
    for table in ("aliases", "facts", "settings"):
        with op.batch_alter_table(table) as batch:
            batch.add_column(_nobody(table))
            if table != "aliases":
                batch.add_column(sa.Column("at", sa.String(), nullable=True))


def _nobody(table: str) -> sa.Column[int]:
    return sa.Column("who", sa.Integer(), sa.ForeignKey("people.id", name=op.f(f"fk_{table}_who")), nullable=True)


def _take_on_from_outside() -> None:
    """A person for each name that was written and is nobody's, and one for the shell."""
    names = " UNION ".join(f"SELECT who FROM {table}" for table in _NAMED)
    events = "SELECT json_extract(event, '$.who') FROM climb_events"
    op.execute(
        "INSERT INTO people (name, role, since)"
        f" SELECT who, 'outside', '1970-01-01T00:00:00.000000Z' FROM ({names} UNION {events} UNION SELECT '{_SHELL}')"
        " WHERE who IS NOT NULL AND who NOT IN (SELECT name FROM people) ORDER BY who"
    )


def _number(table: str) -> None:
    op.execute(f"ALTER TABLE {table} RENAME COLUMN who TO name")
    op.execute(f"ALTER TABLE {table} ADD COLUMN who INTEGER")
    op.execute(f"UPDATE {table} SET who = (SELECT id FROM people WHERE people.name = {table}.name)")
    with op.batch_alter_table(table) as batch:
        batch.drop_column("name")
        batch.alter_column("who", existing_type=sa.Integer(), nullable=False)
        batch.create_foreign_key(op.f(f"fk_{table}_who"), "people", ["who"], ["id"])


def _number_events() -> None:
    """The person stands beside the event, which keeps its old shape until it is read."""
    op.execute("UPDATE climb_events SET who = (SELECT id FROM people WHERE people.name = json_extract(event, '$.who'))")


def downgrade() -> None:
    raise NotImplementedError("names that are nobody's any more cannot be told from others")
