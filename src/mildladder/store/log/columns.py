"""Which field of a case lies in which column, as follows from its shape and the tables."""

import json

from mildladder.core.model import Attempt, Case
from mildladder.core.model.versions import stamped
from mildladder.store.tables import CaseRow

__all__ = ["COLUMNS", "NOTHING_REMAINS", "OF_ATTEMPT", "OF_LOG", "REST"]

_CALLED = {"case": "id", "playbook": "playbook_id", "came_back": "told_back"}
_OWN_ROWS = {"attempts", "facts"}
# A field of a case and its column; what has neither a column nor rows of its own lies in `rest`.
COLUMNS = {
    name: column
    for name in Case.model_fields
    if name not in _OWN_ROWS and (column := _CALLED.get(name, name)) in CaseRow.__table__.columns
}
REST = set(Case.model_fields) - set(COLUMNS) - _OWN_ROWS
NOTHING_REMAINS = json.dumps(stamped("remains", {}))
# What the log itself says of a case.
OF_LOG = (
    "number", "site", "rest", "origin", "who", "logged", "brought_by", "came_back", "linked", "stratum", "signature",
    "place",
)  # fmt: skip
OF_ATTEMPT = tuple(Attempt.model_fields)
