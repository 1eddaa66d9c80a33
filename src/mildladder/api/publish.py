"""Routes of editions: publish, list, compare, bring back."""

from flask import Response
from flask_openapi3 import APIBlueprint, Tag
from sqlalchemy.orm import Session

from mildladder.api.context import context, who
from mildladder.api.problems import documented
from mildladder.api.replies import reply
from mildladder.api.requests import (
    CompareQuery,
    IfMatch,
    PlaybookPath,
    Publish,
    SideBySideQuery,
)
from mildladder.core.model import Shape
from mildladder.desk.advice import nudging, side_by_side
from mildladder.desk.documents import revision_of
from mildladder.desk.drafts import editions
from mildladder.desk.publishing import publish as use_cases

__all__ = ["blueprint"]

blueprint = APIBlueprint("publish", __name__, url_prefix="/api", abp_tags=[Tag(name="editions")])
_WRITE = documented(403, 404, 409, 412, 422, 428, 503)


class EditionList(Shape):
    """Every edition, newest first."""

    editions: tuple[editions.EditionView, ...]


@blueprint.get("/playbooks/<playbook_id>/compare", responses={200: editions.Comparison, **documented(404, 422, 503)})
def compare_documents(path: PlaybookPath, query: CompareQuery) -> Response:
    """What changed between two editions, or an edition and the draft."""
    with context().database.reading() as db:
        return reply(editions.compared(db, path.playbook_id, query.before, query.after))


@blueprint.get("/playbooks/<playbook_id>/editions", responses={200: EditionList, **documented(404, 422, 503)})
def list_editions(path: PlaybookPath) -> Response:
    """Every edition of a playbook."""
    with context().database.reading() as db:
        return reply(EditionList(editions=tuple(editions.edition_list(db, path.playbook_id))))


@blueprint.post("/playbooks/<playbook_id>/editions", responses={201: editions.EditionView, **_WRITE})
def publish(path: PlaybookPath, header: IfMatch, body: Publish) -> Response:
    """Freeze the draft as the next edition."""
    now = context().now()

    def work(db: Session) -> editions.EditionView:
        seen = header.revision(revision_of(db, path.playbook_id))
        return use_cases.publish(db, path.playbook_id, body.note, seen, who(db), now)

    made = context().database.change(work)
    # What it promises is worked out at once, before cases that it does not speak of are logged.
    context().workers.notify(nudging.NUDGING.name)
    return reply(made, 201)


_SIDE = "/playbooks/<playbook_id>/side-by-side"


@blueprint.get(_SIDE, responses={200: side_by_side.SideBySide, **documented(404, 422, 503)})
def get_side_by_side(path: PlaybookPath, query: SideBySideQuery) -> Response:
    """How two editions that run at once stand, and what a trial of two would take."""
    return _side_by_side(path.playbook_id, query.asked())


@blueprint.post(_SIDE, responses={201: side_by_side.SideBySide, **documented(403, 404, 409, 422, 503)})
def begin_side_by_side(path: PlaybookPath, body: side_by_side.AskTrial) -> Response:
    """Run two editions at once: each new case is given one of them by a fair coin."""
    now = context().now()
    context().database.change(lambda db: side_by_side.begin_trial(db, path.playbook_id, body, who(db), now))
    return _side_by_side(path.playbook_id, None, 201)


@blueprint.delete(_SIDE, responses={200: side_by_side.SideBySide, **documented(403, 404, 409, 422, 503)})
def stop_side_by_side(path: PlaybookPath) -> Response:
    """End it; what it has shown until then stays true."""
    now = context().now()
    context().database.change(lambda db: side_by_side.stop_trial(db, path.playbook_id, who(db), now))
    return _side_by_side(path.playbook_id, None)


def _side_by_side(playbook_id: str, asked: side_by_side.AskTrial | None, status: int = 200) -> Response:
    with context().database.reading() as db:
        return reply(side_by_side.side_by_side(db, playbook_id, asked, context().now()), status)
