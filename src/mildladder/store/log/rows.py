"""Logged cases as rows, both ways; which field of a case lies where follows from the shape and the tables."""

from datetime import datetime
from typing import Any

from mildladder.core.model import Attempt, Case
from mildladder.core.model.versions import brought_up, stamped
from mildladder.store.tables import CaseRow

__all__ = ["attempt_rows", "case_of", "case_row", "fact_rows"]

_CALLED = {"case": "id", "playbook": "playbook_id"}
_OWN_ROWS = {"attempts", "facts"}
# A field of a case and its column; what has neither a column nor rows of its own lies in `rest`.
_COLUMNS = {
    name: column
    for name in Case.model_fields
    if name not in _OWN_ROWS and (column := _CALLED.get(name, name)) in CaseRow.__table__.columns
}
_REST = set(Case.model_fields) - set(_COLUMNS) - _OWN_ROWS


def case_row(logged: Case, origin: str, who: int, now: datetime) -> dict[str, Any]:
    """A case's own row, by column, its attempts and facts left out."""
    columns = {column: getattr(logged, name) for name, column in _COLUMNS.items()}
    rest = stamped("remains", logged.model_dump(mode="json", include=_REST))
    return {**columns, "site": logged.site, "rest": rest, "origin": origin, "who": who, "logged": now}


def attempt_rows(logged: Case) -> list[dict[str, Any]]:
    """A case's attempts, by column."""
    return [
        {"position": number, "case_id": logged.case, **{name: getattr(attempt, name) for name in Attempt.model_fields}}
        for number, attempt in enumerate(logged.attempts)
    ]


def fact_rows(logged: Case) -> list[dict[str, Any]]:
    """A case's facts, by column."""
    return [{"case_id": logged.case, "fact": fact, "value": value} for fact, value in logged.facts.items()]


def case_of(row: CaseRow) -> Case:
    """The case as it was logged."""
    return Case.model_validate(
        {
            **{name: getattr(row, column) for name, column in _COLUMNS.items()},
            **brought_up("remains", row.rest),
            "facts": {fact.fact: fact.value for fact in row.facts},
            "attempts": [{name: getattr(attempt, name) for name in Attempt.model_fields} for attempt in row.attempts],
        }
    )
