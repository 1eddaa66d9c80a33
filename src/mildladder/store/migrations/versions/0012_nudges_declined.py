"""What was said of nudges that nobody wants: not now, or never, by whom and why."""

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "declined_nudges",
        sa.Column("playbook_id", sa.String(), nullable=False),
        sa.Column("key", sa.String(), nullable=False),
        sa.Column("is_for_good", sa.Boolean(), nullable=False),
        sa.Column("mean", sa.Double(), nullable=False),
        sa.Column("width", sa.Double(), nullable=False),
        sa.Column("why", sa.String(), nullable=False),
        sa.Column("at", sa.String(), nullable=False),
        sa.Column("who", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(["who"], ["people.id"], name=op.f("fk_declined_nudges_who_people")),
        sa.PrimaryKeyConstraint("playbook_id", "key", name=op.f("pk_declined_nudges")),
    )


def downgrade() -> None:
    op.drop_table("declined_nudges")
