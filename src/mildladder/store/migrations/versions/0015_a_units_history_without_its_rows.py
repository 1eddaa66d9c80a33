"""Find the cases of a unit that were open in some span from the index alone, its later ones not looked up; and put
parts of the index of the log together half as often, for that was most of what a commit took."""

from alembic import op

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.drop_index("ix_cases_symptom_unit_closed", "cases")
    op.create_index("ix_cases_symptom_unit_closed_opened", "cases", ["symptom", "unit", "closed", "opened"])
    op.execute("INSERT INTO case_index (case_index, rank) VALUES ('automerge', 8)")


def downgrade() -> None:
    op.drop_index("ix_cases_symptom_unit_closed_opened", "cases")
    op.create_index("ix_cases_symptom_unit_closed", "cases", ["symptom", "unit", "closed"])
    op.execute("INSERT INTO case_index (case_index, rank) VALUES ('automerge', 4)")
