"""Two editions at once: the trials, and which edition each case of them was given."""

import sqlalchemy as sa
from alembic import op

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "trials",
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("playbook_id", sa.String(), nullable=False),
        sa.Column("a", sa.Integer(), nullable=False),
        sa.Column("b", sa.Integer(), nullable=False),
        sa.Column("seed", sa.String(), nullable=False),
        sa.Column("difference", sa.Double(), nullable=False),
        sa.Column("planned", sa.Integer(), nullable=False),
        sa.Column("ground", sa.JSON(), nullable=False),
        sa.Column("began", sa.String(), nullable=False),
        sa.Column("ended", sa.String(), nullable=True),
        sa.Column("stopped", sa.String(), nullable=True),
        sa.Column("better", sa.String(), nullable=True),
        sa.Column("who", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(["who"], ["people.id"], name=op.f("fk_trials_who_people")),
        sa.PrimaryKeyConstraint("number", name=op.f("pk_trials")),
    )
    op.create_index(op.f("ix_trials_playbook_id"), "trials", ["playbook_id"])
    op.create_table(
        "trial_cases",
        sa.Column("trial", sa.Integer(), nullable=False),
        sa.Column("climb_id", sa.String(), nullable=False),
        sa.Column("first", sa.String(), nullable=False),
        sa.Column("arm", sa.String(), nullable=False),
        sa.Column("unit", sa.String(), nullable=False),
        sa.Column("began", sa.String(), nullable=False),
        sa.Column("closed", sa.String(), nullable=True),
        sa.Column("group", sa.String(), nullable=False),
        sa.Column("cost", sa.Double(), nullable=False),
        sa.Column("is_severe", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(["trial"], ["trials.number"], name=op.f("fk_trial_cases_trial_trials")),
        sa.PrimaryKeyConstraint("trial", "climb_id", name=op.f("pk_trial_cases")),
    )
    op.create_index(op.f("ix_trial_cases_climb_id"), "trial_cases", ["climb_id"])


def downgrade() -> None:
    op.drop_table("trial_cases")
    op.drop_table("trials")
