"""How often the library, the names and the settings have changed is counted, so that whatever is worked out of them can
tell whether it still holds."""

import sqlalchemy as sa
from alembic import op

revision = "0017"
down_revision = "0016"
branch_labels = None
depends_on = None

# Which tables each of them lies in.
TABLES = {"library": ("library_steps", "facts"), "names": ("aliases",), "settings": ("settings",)}


def upgrade() -> None:
    op.create_table(
        "desk_versions",
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.PrimaryKeyConstraint("name", name=op.f("pk_desk_versions")),
    )
    for name, tables in TABLES.items():
        op.execute(f"INSERT INTO desk_versions (name, version) VALUES ('{name}', 0)")
        for table in tables:
            for change in ("INSERT", "UPDATE", "DELETE"):
                op.execute(
                    f"CREATE TRIGGER {table}_{change.lower()}_counted AFTER {change} ON {table}"
                    f" BEGIN UPDATE desk_versions SET version = version + 1 WHERE name = '{name}'; END"
                )


def downgrade() -> None:
    for tables in TABLES.values():
        for table in tables:
            for change in ("insert", "update", "delete"):
                op.execute(f"DROP TRIGGER {table}_{change}_counted")
    op.drop_table("desk_versions")
