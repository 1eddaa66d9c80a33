"""Routes of the case log."""

from flask import Response
from flask_openapi3 import APIBlueprint, Tag

from mildladder.api.context import context
from mildladder.api.problems import documented
from mildladder.api.replies import reply
from mildladder.api.requests import CasePath, CaseQuery
from mildladder.desk import measuring
from mildladder.store.cases import CaseFilter

__all__ = ["blueprint"]

blueprint = APIBlueprint("cases", __name__, url_prefix="/api", abp_tags=[Tag(name="cases")])


@blueprint.get("/cases", responses={200: measuring.CaseList, **documented(422, 503)})
def list_cases(query: CaseQuery) -> Response:
    """A page of the log, the last closed first."""
    wanted = CaseFilter(symptom=query.symptom, step=query.step, end=query.end, words=query.words)
    with context().database.reading() as db:
        return reply(measuring.case_list(db, wanted, query.after, query.limit))


@blueprint.get("/left-out", responses={200: measuring.LeftOut, **documented(422, 503)})
def get_left_out() -> Response:
    """Lines of brought-in case files that could not be read, and why."""
    with context().database.reading() as db:
        return reply(measuring.left_out(db))


@blueprint.get("/cases/<case_id>", responses={200: measuring.CaseView, **documented(404, 422, 503)})
def get_case(path: CasePath) -> Response:
    """One whole case."""
    with context().database.reading() as db:
        return reply(measuring.case_view(db, path.case_id))
