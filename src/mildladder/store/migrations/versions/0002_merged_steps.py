"""Merged steps: an alias for each step that counts as another."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "aliases",
        sa.Column("old", sa.String(), nullable=False),
        sa.Column("new", sa.String(), nullable=False),
        sa.Column("at", sa.String(), nullable=False),
        sa.PrimaryKeyConstraint("old", name=op.f("pk_aliases")),
    )


def downgrade() -> None:
    op.drop_table("aliases")
