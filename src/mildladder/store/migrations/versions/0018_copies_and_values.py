"""How much could be put right from a safeguard's copy, and the values with which a step was tried, on each attempt."""

import sqlalchemy as sa
from alembic import op

revision = "0018"
down_revision = "0017"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("attempts", sa.Column("put_right", sa.String(), nullable=True))
    op.add_column("attempts", sa.Column("tried_with", sa.JSON(), nullable=True))


def downgrade() -> None:
    op.drop_column("attempts", "tried_with")
    op.drop_column("attempts", "put_right")
