"""No number of a job is ever given twice; what fails for a passing reason is tried again later; and the file of an
import has a name of its own, no longer the number of its job."""

import sqlalchemy as sa
from alembic import op

revision = "0016"
down_revision = "0015"
branch_labels = None
depends_on = None


def upgrade() -> None:
    with op.batch_alter_table("jobs", recreate="always", table_kwargs={"sqlite_autoincrement": True}) as table:
        table.add_column(sa.Column("not_before", sa.String(), nullable=True))
    op.execute("UPDATE jobs SET tries = 0")
    op.execute(
        "UPDATE jobs SET input = json_set(input, '$.file', CAST(number AS TEXT))"
        " WHERE kind = 'importing' AND NOT is_outside"
    )


def downgrade() -> None:
    raise NotImplementedError("numbers of jobs that were never given twice are not given twice again")
