"""Routes of what is known now, and of what agents say of texts."""

from flask import Response
from flask_openapi3 import APIBlueprint, Tag

from mildladder.api.context import context, who
from mildladder.api.problems import documented
from mildladder.api.replies import reply
from mildladder.api.requests import NoticeCallPath, NoticePath, RemarkPath, RemarksQuery
from mildladder.core.model import Shape
from mildladder.desk.guiding import notices, remarks

__all__ = ["blueprint"]

blueprint = APIBlueprint("notices", __name__, url_prefix="/api", abp_tags=[Tag(name="notices and remarks")])
_WRITE = documented(403, 404, 409, 422, 503)


class NoticeList(Shape):
    """What is known now, and what ended of late."""

    notices: tuple[notices.Notice, ...]


@blueprint.get("/notices", responses={200: NoticeList, **documented(503)})
def list_notices() -> Response:
    """What is known now, the newest first, then what ended in the last two days."""
    with context().database.reading() as db:
        return reply(NoticeList(notices=tuple(notices.notices(db, context().now()))))


@blueprint.post("/notices", responses={201: NoticeList, **_WRITE})
def put_up_notice(body: notices.NewNotice) -> Response:
    """Tell everybody what is known now; an agent's notice holds for an hour."""
    with context().database.writing() as db:
        notices.post_notice(db, body, who(db), context().now())
        return reply(NoticeList(notices=tuple(notices.notices(db, context().now()))), 201)


@blueprint.post("/notices/<int:number>/end", responses={200: NoticeList, **_WRITE})
def end_notice(path: NoticePath) -> Response:
    """It is over; whoever called about it can be called back."""
    with context().database.writing() as db:
        who(db)
        notices.end(db, path.number, context().now())
        return reply(NoticeList(notices=tuple(notices.notices(db, context().now()))))


@blueprint.post("/notices/<int:number>/calls", responses={200: NoticeList, **_WRITE})
def log_call(path: NoticePath, body: notices.NewCall) -> Response:
    """A caller called about it."""
    with context().database.writing() as db:
        notices.log_call(db, path.number, body, who(db), context().now())
        return reply(NoticeList(notices=tuple(notices.notices(db, context().now()))))


@blueprint.post("/notices/<int:number>/calls/<call_id>/called-back", responses={200: NoticeList, **_WRITE})
def called_back(path: NoticeCallPath) -> Response:
    """That caller was called back."""
    with context().database.writing() as db:
        who(db)
        notices.call_back(db, path.number, path.call_id, context().now())
        return reply(NoticeList(notices=tuple(notices.notices(db, context().now()))))


@blueprint.get("/remarks", responses={200: remarks.Remarks, **documented(422, 503)})
def list_remarks(query: RemarksQuery) -> Response:
    """What agents say of texts, and nobody has seen to."""
    with context().database.reading() as db:
        return reply(remarks.remarks(db, context().now(), query.playbook))


@blueprint.post("/remarks", responses={201: remarks.Remarks, **_WRITE})
def add_remark(body: remarks.NewRemark) -> Response:
    """Say that a text is wrong."""
    with context().database.writing() as db:
        remarks.remark(db, body, who(db), context().now())
        return reply(remarks.remarks(db, context().now(), body.playbook), 201)


@blueprint.post("/remarks/<int:number>/settled", responses={200: remarks.Remarks, **_WRITE})
def settle_remark(path: RemarkPath) -> Response:
    """The lead has seen to it."""
    with context().database.writing() as db:
        who(db)
        remarks.settle(db, path.number, context().now())
        return reply(remarks.remarks(db, context().now()))
