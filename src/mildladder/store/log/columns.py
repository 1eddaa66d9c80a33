"""Which field of a case lies in which column, as follows from its shape and the tables."""

import json
from typing import NamedTuple

from mildladder.core.model import Attempt, Case
from mildladder.core.model.versions import stamped
from mildladder.store.tables import CaseRow

__all__ = ["COLUMNS", "NOTHING_REMAINS", "OF_ATTEMPT", "REST", "OfLog"]

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
OF_ATTEMPT = tuple(Attempt.model_fields)


class OfLog(NamedTuple):
    """What the log itself says of a case, by column and as stored (see `CaseRow`)."""

    number: int
    site: str
    rest: str
    origin: str
    who: int
    logged: str
    brought_by: int | None
    came_back: str | None
    linked: int | None
    stratum: int
    signature: int
    place: int
