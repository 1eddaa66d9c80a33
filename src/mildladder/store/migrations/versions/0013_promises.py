"""What each edition promised when it was published, so that it can be held against what came of it."""

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "promises",
        sa.Column("playbook_id", sa.String(), nullable=False),
        sa.Column("edition", sa.Integer(), nullable=False),
        sa.Column("published", sa.String(), nullable=False),
        sa.Column("cases", sa.Integer(), nullable=False),
        sa.Column("a_month", sa.Double(), nullable=False),
        sa.Column("worth", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(
            ["playbook_id", "edition"],
            ["editions.playbook_id", "editions.number"],
            name=op.f("fk_promises_playbook_id_edition_editions"),
        ),
        sa.PrimaryKeyConstraint("playbook_id", "edition", name=op.f("pk_promises")),
    )


def downgrade() -> None:
    op.drop_table("promises")
