"""Which of several ways of doing a step worked, on each attempt."""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("attempts", sa.Column("ways", sa.JSON(), nullable=True))


def downgrade() -> None:
    op.drop_column("attempts", "ways")
