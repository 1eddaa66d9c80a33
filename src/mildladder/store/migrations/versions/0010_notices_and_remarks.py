"""What is known now, who called about it, and what agents say of texts that are wrong."""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "notices",
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("playbook_id", sa.String(), nullable=True),
        sa.Column("fact", sa.String(), nullable=True),
        sa.Column("value", sa.String(), nullable=True),
        sa.Column("says", sa.String(), nullable=False),
        sa.Column("begun", sa.String(), nullable=False),
        sa.Column("until", sa.String(), nullable=True),
        sa.Column("ended", sa.String(), nullable=True),
        sa.Column("who", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(["who"], ["people.id"], name=op.f("fk_notices_who_people")),
        sa.PrimaryKeyConstraint("number", name=op.f("pk_notices")),
    )
    op.create_table(
        "notice_calls",
        sa.Column("id", sa.String(), nullable=False),
        sa.Column("notice", sa.Integer(), nullable=False),
        sa.Column("at", sa.String(), nullable=False),
        sa.Column("caller", sa.String(), nullable=False),
        sa.Column("call_back", sa.String(), nullable=False),
        sa.Column("unit", sa.String(), nullable=False),
        sa.Column("said", sa.String(), nullable=False),
        sa.Column("called_back", sa.String(), nullable=True),
        sa.Column("who", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(["notice"], ["notices.number"], name=op.f("fk_notice_calls_notice_notices")),
        sa.ForeignKeyConstraint(["who"], ["people.id"], name=op.f("fk_notice_calls_who_people")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_notice_calls")),
    )
    op.create_index("ix_notice_calls_notice", "notice_calls", ["notice"])
    op.create_table(
        "remarks",
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("key", sa.String(), nullable=False),
        sa.Column("playbook_id", sa.String(), nullable=False),
        sa.Column("edition", sa.Integer(), nullable=False),
        sa.Column("step", sa.String(), nullable=False),
        sa.Column("text", sa.String(), nullable=False),
        sa.Column("says", sa.String(), nullable=False),
        sa.Column("at", sa.String(), nullable=False),
        sa.Column("settled", sa.String(), nullable=True),
        sa.Column("who", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(["who"], ["people.id"], name=op.f("fk_remarks_who_people")),
        sa.PrimaryKeyConstraint("number", name=op.f("pk_remarks")),
        sa.UniqueConstraint("key", name=op.f("uq_remarks_key")),
    )
    op.create_index("ix_remarks_playbook_id", "remarks", ["playbook_id"])


def downgrade() -> None:
    op.drop_table("remarks")
    op.drop_table("notice_calls")
    op.drop_table("notices")
