"""Facts that the whole desk knows: united when a playbook names them, and counted by from then on."""

from collections.abc import Iterable
from datetime import datetime

from sqlalchemy.orm import Session

from mildladder.core.model import Fact
from mildladder.core.tally.keys import COUNTED_TYPES
from mildladder.desk.library.recounting import count_fact_anew
from mildladder.store.library import register_facts

__all__ = ["know_facts"]


def know_facts(session: Session, facts: Iterable[Fact], who: int, now: datetime) -> None:
    """Unite a playbook's facts with the desk's. Cases that have a fact which is new here are counted by it from now on.

    Raises Conflict for an id that has another type here.
    """
    for fact in register_facts(session, facts, who, now):
        if fact.type in COUNTED_TYPES:
            count_fact_anew(session, fact.id, who, now)
