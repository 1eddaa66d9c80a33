"""Routes of what the log shows."""

from flask import Response
from flask_openapi3 import APIBlueprint, Tag

from mildladder.api.context import context, who
from mildladder.api.problems import documented
from mildladder.api.replies import Working, reply, reply_answer
from mildladder.api.requests import EvidenceQuery, NameQuery, PlaybookPath, ReplayQuery, RevisionQuery
from mildladder.desk.evidence import estimating, fact_shares, odd_names
from mildladder.desk.evidence import symptom as evidence
from mildladder.desk.log import origins

__all__ = ["blueprint"]

blueprint = APIBlueprint("evidence", __name__, url_prefix="/api", abp_tags=[Tag(name="evidence")])


@blueprint.get("/playbooks/<playbook_id>/evidence", responses={200: evidence.Evidence, **documented(404, 422, 503)})
def get_evidence(path: PlaybookPath, query: EvidenceQuery) -> Response:
    """What the logged cases show of each step."""
    with context().database.reading() as db:
        return reply(evidence.evidence(db, path.playbook_id, context().now().date(), query.wanted()))


@blueprint.post(
    "/playbooks/<playbook_id>/names", responses={200: evidence.Evidence, **documented(403, 404, 409, 422, 503)}
)
def say_name(path: PlaybookPath, body: odd_names.SayName) -> Response:
    """What a name in the log is: a step of the playbook, or one of its own; the evidence as it counts from then on."""
    with context().database.writing() as db:
        odd_names.say_name(db, path.playbook_id, body, who(db), context().now())
    return _evidence(path.playbook_id)


@blueprint.delete(
    "/playbooks/<playbook_id>/names", responses={200: evidence.Evidence, **documented(403, 404, 422, 503)}
)
def take_name_back(path: PlaybookPath, query: NameQuery) -> Response:
    """Let a name count as itself again; the evidence as it counts from then on."""
    with context().database.writing() as db:
        odd_names.take_name_back(db, path.playbook_id, query.name, who(db), context().now())
    return _evidence(path.playbook_id)


@blueprint.put(
    "/playbooks/<playbook_id>/brought-in", responses={200: evidence.Evidence, **documented(403, 404, 422, 503)}
)
def exclude_cases(path: PlaybookPath, body: origins.BroughtInCases) -> Response:
    """Keep the cases that were brought in out of what is estimated, or let them speak again."""
    with context().database.writing() as db:
        origins.exclude_cases(db, path.playbook_id, body, who(db), context().now())
    return _evidence(path.playbook_id)


def _evidence(playbook_id: str) -> Response:
    with context().database.reading() as db:
        return reply(evidence.evidence(db, playbook_id, context().now().date()))


@blueprint.get(
    "/playbooks/<playbook_id>/estimate",
    responses={200: estimating.EstimateView, 202: Working, **documented(404, 409, 422, 503)},
)
def get_estimate(path: PlaybookPath, query: EvidenceQuery) -> Response:
    """What each step would end if tried first, and how sure the cases make one of it."""
    desk = context()
    made = estimating.estimated(desk.database, desk.workers, path.playbook_id, query.wanted(), desk.now())
    return reply_answer(made)


@blueprint.get(
    "/playbooks/<playbook_id>/fact-counts", responses={200: fact_shares.FactCounts, **documented(404, 409, 422, 503)}
)
def get_fact_counts(path: PlaybookPath) -> Response:
    """How the logged cases share in the values of what is asked about their units."""
    with context().database.reading() as db:
        return reply(fact_shares.counts_of_facts(db, path.playbook_id))


@blueprint.get(
    "/playbooks/<playbook_id>/draft/learned",
    responses={200: estimating.LearnedFigures, 202: Working, **documented(404, 409, 412, 422, 503)},
)
def get_learned(path: PlaybookPath, query: RevisionQuery) -> Response:
    """The figures of the draft by what the cases have taught, with intervals, and how it differs from the edition."""
    desk = context()
    made = estimating.learned(desk.database, desk.workers, path.playbook_id, query.revision, desk.now())
    return reply_answer(made)


@blueprint.get(
    "/playbooks/<playbook_id>/replay",
    responses={200: estimating.ReplayView, 202: Working, **documented(404, 409, 422, 503)},
)
def get_replay(path: PlaybookPath, query: ReplayQuery) -> Response:
    """What a ladder would have cost on the logged cases, and two editions as their own cases went."""
    desk = context()
    before, after = query.versions()
    made = estimating.replayed(desk.database, desk.workers, path.playbook_id, before, after, desk.now())
    return reply_answer(made)
