"""Pictures, kept by their digest."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "pictures",
        sa.Column("digest", sa.String(), nullable=False),
        sa.Column("media", sa.String(), nullable=False),
        sa.Column("data", sa.LargeBinary(), nullable=False),
        sa.PrimaryKeyConstraint("digest", name=op.f("pk_pictures")),
    )


def downgrade() -> None:
    op.drop_table("pictures")
