"""Harm that the cases of a symptom show, with how often what eases it had been carried out before."""

from sqlalchemy.orm import Session

from mildladder.core.evidence.counts import HarmCount
from mildladder.core.evidence.guarded import guards_of, with_guards
from mildladder.core.model import Playbook
from mildladder.store.log import reading as store

__all__ = ["harms_of"]


def harms_of(session: Session, playbook: Playbook, part: store.Filter = store.EVERYTHING) -> dict[str, HarmCount]:
    """By step, of a part of the cases; as long as no more are counted it is worked out once."""
    guards = guards_of(playbook)

    def counted() -> dict[str, HarmCount]:
        harms = store.harm_counts(session, playbook.id, part)
        return with_guards(harms, guards, store.tallies(session, playbook.id, part))

    return store.of_version(session, playbook.id, ("harms", part, guards), counted)
