"""Routes of what the log shows."""

from flask import Response
from flask_openapi3 import APIBlueprint, Tag

from mildladder.api.context import context
from mildladder.api.problems import documented
from mildladder.api.replies import reply
from mildladder.api.requests import (
    PlaybookPath,
)
from mildladder.desk import evidence, fact_shares

__all__ = ["blueprint"]

blueprint = APIBlueprint("evidence", __name__, url_prefix="/api", abp_tags=[Tag(name="evidence")])


@blueprint.get("/playbooks/<playbook_id>/evidence", responses={200: evidence.Evidence, **documented(404, 422, 503)})
def get_evidence(path: PlaybookPath) -> Response:
    """What the logged cases show of each step."""
    with context().database.reading() as db:
        return reply(evidence.evidence(db, path.playbook_id, context().now().date()))


@blueprint.get(
    "/playbooks/<playbook_id>/fact-counts", responses={200: fact_shares.FactCounts, **documented(404, 409, 422, 503)}
)
def get_fact_counts(path: PlaybookPath) -> Response:
    """How the logged cases share in the values of what is asked about their units."""
    with context().database.reading() as db:
        return reply(fact_shares.counts_of_facts(db, path.playbook_id))
