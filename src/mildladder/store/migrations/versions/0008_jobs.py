"""Long work is kept as rows, so that whoever asked can watch it, cancel it, and be told how it ended."""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "jobs",
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("subject", sa.String(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=True),
        sa.Column("digest", sa.String(), nullable=False),
        sa.Column("input", sa.JSON(), nullable=False),
        sa.Column("is_outside", sa.Boolean(), nullable=False),
        sa.Column("state", sa.String(), nullable=False),
        sa.Column("phase", sa.String(), nullable=False),
        sa.Column("done", sa.Integer(), nullable=False),
        sa.Column("of", sa.Integer(), nullable=True),
        sa.Column("so_far", sa.JSON(), nullable=False),
        sa.Column("result", sa.String(), nullable=True),
        sa.Column("problem", sa.JSON(), nullable=True),
        sa.Column("tries", sa.Integer(), nullable=False),
        sa.Column("who", sa.Integer(), nullable=True),
        sa.Column("asked", sa.String(), nullable=False),
        sa.Column("began", sa.String(), nullable=True),
        sa.Column("ended", sa.String(), nullable=True),
        sa.ForeignKeyConstraint(["who"], ["people.id"], name=op.f("fk_jobs_who_people")),
        sa.PrimaryKeyConstraint("number", name=op.f("pk_jobs")),
    )
    op.create_index("ix_jobs_kind_digest", "jobs", ["kind", "digest"])
    op.create_index("ix_jobs_state", "jobs", ["state"])
    op.create_index("ix_jobs_kind_subject_version", "jobs", ["kind", "subject", "version"])
    with op.batch_alter_table("imports") as table:
        table.add_column(sa.Column("job", sa.Integer(), nullable=True))
        table.create_foreign_key(op.f("fk_imports_job_jobs"), "jobs", ["job"], ["number"], ondelete="SET NULL")


def downgrade() -> None:
    with op.batch_alter_table("imports") as table:
        table.drop_constraint(op.f("fk_imports_job_jobs"), type_="foreignkey")
        table.drop_column("job")
    op.drop_table("jobs")
