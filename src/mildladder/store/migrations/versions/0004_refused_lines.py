"""Lines of brought-in case files that could not be read, kept until the file is brought in again."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "refused_lines",
        sa.Column("source", sa.String(), nullable=False),
        sa.Column("line", sa.Integer(), nullable=False),
        sa.Column("path", sa.String(), nullable=False),
        sa.Column("says", sa.String(), nullable=False),
        sa.Column("text", sa.String(), nullable=False),
        sa.Column("who", sa.String(), nullable=False),
        sa.Column("at", sa.String(), nullable=False),
        sa.PrimaryKeyConstraint("source", "line", name=op.f("pk_refused_lines")),
    )


def downgrade() -> None:
    op.drop_table("refused_lines")
