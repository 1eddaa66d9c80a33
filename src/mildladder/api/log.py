"""Routes of the case log."""

from flask import Response
from flask_openapi3 import APIBlueprint, Tag

from mildladder.api.context import context
from mildladder.api.problems import documented
from mildladder.api.replies import reply
from mildladder.api.requests import CasePath, CaseQuery, CaseTotalQuery
from mildladder.desk.log import pages as log
from mildladder.desk.log.pages import CaseFilter

__all__ = ["blueprint"]

blueprint = APIBlueprint("log", __name__, url_prefix="/api", abp_tags=[Tag(name="cases")])


@blueprint.get("/cases", responses={200: log.CaseList, **documented(422, 503)})
def list_cases(query: CaseQuery) -> Response:
    """A page of the log, the last closed first."""
    wanted = CaseFilter(symptom=query.symptom, step=query.step, end=query.end, words=query.words)
    with context().database.reading() as db:
        return reply(log.case_list(db, wanted, query.after, query.limit, query.rank))


@blueprint.get("/cases-total", responses={200: log.CaseTotal, **documented(422, 503)})
def count_cases(query: CaseTotalQuery) -> Response:
    """How many cases of the log fit."""
    wanted = CaseFilter(symptom=query.symptom, step=query.step, end=query.end, words=query.words)
    with context().database.reading() as db:
        return reply(log.case_total(db, wanted))


@blueprint.get("/cases/<case_id>", responses={200: log.CaseView, **documented(404, 422, 503)})
def get_case(path: CasePath) -> Response:
    """One whole case."""
    with context().database.reading() as db:
        return reply(log.case_view(db, path.case_id))
