"""The first tables"""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "cases",
        sa.Column("id", sa.String(), nullable=False),
        sa.Column("symptom", sa.String(), nullable=False),
        sa.Column("opened", sa.String(), nullable=False),
        sa.Column("closed", sa.String(), nullable=False),
        sa.Column("said", sa.String(), nullable=True),
        sa.Column("unit", sa.String(), nullable=True),
        sa.Column("site", sa.String(), nullable=False),
        sa.Column("playbook_id", sa.String(), nullable=True),
        sa.Column("edition", sa.Integer(), nullable=True),
        sa.Column("baseline", sa.String(), nullable=True),
        sa.Column("end", sa.String(), nullable=False),
        sa.Column("resolved_by", sa.String(), nullable=True),
        sa.Column("confirmed", sa.String(), nullable=True),
        sa.Column("came_back", sa.String(), nullable=True),
        sa.Column("reopened_from", sa.String(), nullable=True),
        sa.Column("notes", sa.String(), nullable=True),
        sa.Column("rest", sa.JSON(), nullable=False),
        sa.Column("origin", sa.String(), nullable=False),
        sa.Column("who", sa.String(), nullable=False),
        sa.Column("logged", sa.String(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_cases")),
    )
    with op.batch_alter_table("cases", schema=None) as batch_op:
        batch_op.create_index(batch_op.f("ix_cases_closed_id"), ["closed", "id"], unique=False)
        batch_op.create_index(batch_op.f("ix_cases_symptom_closed"), ["symptom", "closed"], unique=False)
        batch_op.create_index(batch_op.f("ix_cases_symptom_unit_closed"), ["symptom", "unit", "closed"], unique=False)

    op.create_table(
        "climbs",
        sa.Column("id", sa.String(), nullable=False),
        sa.Column("case_id", sa.String(), nullable=False),
        sa.Column("playbook_id", sa.String(), nullable=False),
        sa.Column("edition", sa.Integer(), nullable=False),
        sa.Column("who", sa.String(), nullable=False),
        sa.Column("opened", sa.String(), nullable=False),
        sa.Column("ended", sa.String(), nullable=True),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_climbs")),
        sa.UniqueConstraint("case_id", name=op.f("uq_climbs_case_id")),
    )
    op.create_table(
        "facts",
        sa.Column("id", sa.String(), nullable=False),
        sa.Column("type", sa.String(), nullable=False),
        sa.Column("ask", sa.String(), nullable=False),
        sa.Column("choices", sa.JSON(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_facts")),
    )
    op.create_table(
        "library_steps",
        sa.Column("step_id", sa.String(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("shared", sa.JSON(), nullable=False),
        sa.Column("who", sa.String(), nullable=False),
        sa.Column("at", sa.String(), nullable=False),
        sa.PrimaryKeyConstraint("step_id", "version", name=op.f("pk_library_steps")),
    )
    op.create_table(
        "people",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("role", sa.String(), nullable=False),
        sa.Column("since", sa.String(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_people")),
        sa.UniqueConstraint("name", name=op.f("uq_people_name")),
    )
    op.create_table(
        "playbooks",
        sa.Column("id", sa.String(), nullable=False),
        sa.Column("draft", sa.Integer(), nullable=False),
        sa.Column("since", sa.String(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_playbooks")),
    )
    op.create_table(
        "settings",
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("value", sa.String(), nullable=False),
        sa.PrimaryKeyConstraint("name", name=op.f("pk_settings")),
    )
    op.create_table(
        "tallies",
        sa.Column("symptom", sa.String(), nullable=False),
        sa.Column("edition", sa.Integer(), nullable=False),
        sa.Column("period", sa.String(), nullable=False),
        sa.Column("came_back", sa.Boolean(), nullable=False),
        sa.Column("site", sa.String(), nullable=False),
        sa.Column("facts", sa.String(), nullable=False),
        sa.Column("signature", sa.String(), nullable=False),
        sa.Column("count", sa.Integer(), nullable=False),
        sa.Column("minutes", sa.Double(), nullable=False),
        sa.PrimaryKeyConstraint(
            "symptom", "edition", "period", "came_back", "site", "facts", "signature", name=op.f("pk_tallies")
        ),
    )
    op.create_table(
        "attempts",
        sa.Column("case_id", sa.String(), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("step", sa.String(), nullable=False),
        sa.Column("outcome", sa.String(), nullable=True),
        sa.Column("finding", sa.String(), nullable=True),
        sa.Column("minutes", sa.Double(), nullable=True),
        sa.Column("by", sa.String(), nullable=False),
        sa.Column("trial", sa.Integer(), nullable=True),
        sa.Column("took", sa.String(), nullable=True),
        sa.Column("harmed", sa.JSON(), nullable=True),
        sa.Column("safeguard_used", sa.String(), nullable=True),
        sa.Column("reading", sa.Double(), nullable=True),
        sa.Column("at", sa.String(), nullable=True),
        sa.ForeignKeyConstraint(["case_id"], ["cases.id"], name=op.f("fk_attempts_case_id"), ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("case_id", "position", name=op.f("pk_attempts")),
    )
    with op.batch_alter_table("attempts", schema=None) as batch_op:
        batch_op.create_index(batch_op.f("ix_attempts_step"), ["step"], unique=False)

    op.create_table(
        "case_facts",
        sa.Column("case_id", sa.String(), nullable=False),
        sa.Column("fact", sa.String(), nullable=False),
        sa.Column("value", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(["case_id"], ["cases.id"], name=op.f("fk_case_facts_case_id"), ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("case_id", "fact", name=op.f("pk_case_facts")),
    )
    op.create_table(
        "climb_events",
        sa.Column("climb_id", sa.String(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("key", sa.String(), nullable=False),
        sa.Column("event", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(["climb_id"], ["climbs.id"], name=op.f("fk_climb_events_climb_id")),
        sa.PrimaryKeyConstraint("climb_id", "number", name=op.f("pk_climb_events")),
        sa.UniqueConstraint("climb_id", "key", name=op.f("uq_climb_events_climb_id_key")),
    )
    op.create_table(
        "editions",
        sa.Column("playbook_id", sa.String(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("document", sa.JSON(), nullable=False),
        sa.Column("forecast", sa.JSON(), nullable=False),
        sa.Column("content_hash", sa.String(), nullable=False),
        sa.Column("note", sa.String(), nullable=False),
        sa.Column("who", sa.String(), nullable=False),
        sa.Column("at", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(["playbook_id"], ["playbooks.id"], name=op.f("fk_editions_playbook_id")),
        sa.PrimaryKeyConstraint("playbook_id", "number", name=op.f("pk_editions")),
    )
    op.create_table(
        "revisions",
        sa.Column("playbook_id", sa.String(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("document", sa.JSON(), nullable=False),
        sa.Column("label", sa.String(), nullable=False),
        sa.Column("who", sa.String(), nullable=False),
        sa.Column("at", sa.String(), nullable=False),
        sa.Column("restores", sa.Integer(), nullable=True),
        sa.Column("upon", sa.Integer(), nullable=True),
        sa.ForeignKeyConstraint(["playbook_id"], ["playbooks.id"], name=op.f("fk_revisions_playbook_id")),
        sa.PrimaryKeyConstraint("playbook_id", "number", name=op.f("pk_revisions")),
    )


def downgrade() -> None:
    op.drop_table("revisions")
    op.drop_table("editions")
    op.drop_table("climb_events")
    op.drop_table("case_facts")
    with op.batch_alter_table("attempts", schema=None) as batch_op:
        batch_op.drop_index(batch_op.f("ix_attempts_step"))

    op.drop_table("attempts")
    op.drop_table("tallies")
    op.drop_table("settings")
    op.drop_table("playbooks")
    op.drop_table("people")
    op.drop_table("library_steps")
    op.drop_table("facts")
    op.drop_table("climbs")
    with op.batch_alter_table("cases", schema=None) as batch_op:
        batch_op.drop_index(batch_op.f("ix_cases_symptom_unit_closed"))
        batch_op.drop_index(batch_op.f("ix_cases_symptom_closed"))
        batch_op.drop_index(batch_op.f("ix_cases_closed_id"))

    op.drop_table("cases")
