"""Routes of a draft: read it in working form, change it, hear what others do, see its figures."""

from flask import Response, request
from flask_openapi3 import APIBlueprint, Tag

from mildladder.api.context import context, person, who
from mildladder.api.problems import documented
from mildladder.api.replies import reply, reply_draft
from mildladder.api.requests import ClientsQuery, FiguresQuery, PlaybookPath, RevisionQuery, SinceQuery, StepOfDraftPath
from mildladder.core.model import Shape
from mildladder.core.model.sending import SendEdit
from mildladder.desk.documents import revision_of
from mildladder.desk.drafts import author, draft_view, shared_steps
from mildladder.desk.drafts.condition import ConditionMeans, TypedCondition, condition_means

__all__ = ["blueprint"]

blueprint = APIBlueprint("author", __name__, url_prefix="/api/playbooks", abp_tags=[Tag(name="drafts")])
_READ = documented(404, 422, 503)


@blueprint.get("/<playbook_id>/draft", responses={200: author.DraftForm, **_READ})
def get_draft(path: PlaybookPath, query: ClientsQuery) -> Response:
    """The draft in working form, and what was taken from these clients."""
    with context().database.reading() as db:
        sitting = person(db)
        form = author.draft_form(db, path.playbook_id, sitting.id if sitting else None, query.names)
    response = reply(form)
    response.headers["ETag"] = f'"{form.revision}"'
    return response


@blueprint.get("/<playbook_id>/draft/edits", responses={200: author.Since, 304: None, **_READ})
def get_edits(path: PlaybookPath, query: SinceQuery) -> Response:
    """What has come since a revision; 304 for nothing."""
    desk = context()
    with desk.database.reading() as db:
        sitting = person(db)
        here = desk.presence.seen(path.playbook_id, sitting.name if sitting else None, desk.now())
        tag = f"{revision_of(db, path.playbook_id)}-{'-'.join(here)}"
        if query.base and request.if_none_match.contains(_tag(tag)):
            return Response(status=304, headers={"ETag": f'"{_tag(tag)}"'})
        made = author.since(
            db, path.playbook_id, query.base, sitting.id if sitting else None, query.client or None, here=here
        )
    response = reply(made)
    response.headers["ETag"] = f'"{_tag(tag)}"'
    return response


def _tag(text: str) -> str:
    """An entity tag holds ASCII alone, and names need not."""
    return text.encode("ascii", "backslashreplace").decode().replace('"', "")


@blueprint.post("/<playbook_id>/draft/edits", responses={200: author.Since, **documented(403, 404, 409, 422, 503)})
def send_edit(path: PlaybookPath, body: SendEdit) -> Response:
    """Take one edit of one page, and tell what came before it. An edit that was taken already changes nothing."""
    desk = context()
    with desk.database.reading() as db:
        by = who(db)
    sent = author.send(desk.database, path.playbook_id, body, by, desk.now())
    if sent.revision is not None:
        desk.arrivals.arrived(path.playbook_id, sent.revision)
    with desk.database.reading() as db:
        made = author.since(db, path.playbook_id, body.base, by, body.client, answered=body, conflicts=sent.conflicts)
    return reply(made)


@blueprint.get(
    "/<playbook_id>/draft/figures", responses={200: draft_view.DraftView, **documented(404, 409, 412, 422, 503)}
)
def get_figures(path: PlaybookPath, query: FiguresQuery) -> Response:
    """Forecast, rows and rules of the draft, as all units meet it or one sort of them; of a revision that has passed
    there are none any more. The next revision may be asked for while the edit that makes it is on its way."""
    desk = context()
    if query.revision is not None:
        with desk.database.reading() as db:
            is_next = query.revision == revision_of(db, path.playbook_id) + 1
        if is_next:
            desk.arrivals.wait(path.playbook_id, query.revision)
    with desk.database.reading() as db:
        return reply_draft(draft_view.figures_of(db, path.playbook_id, query.revision, query.facts, query.by))


@blueprint.get("/<playbook_id>/draft/review", responses={200: draft_view.DraftReview, **documented(404, 412, 422, 503)})
def get_review(path: PlaybookPath, query: RevisionQuery) -> Response:
    """What review says of the draft."""
    with context().database.reading() as db:
        return reply(draft_view.review_of(db, path.playbook_id, context().now().date(), query.revision))


@blueprint.post("/<playbook_id>/draft/condition", responses={200: ConditionMeans, **_READ})
def read_condition(path: PlaybookPath, body: TypedCondition) -> Response:
    """What a condition means that somebody is typing; nothing is changed."""
    with context().database.reading() as db:
        return reply(condition_means(db, path.playbook_id, body.text))


class BesideLibrary(Shape):
    """A step of a draft beside the library's; None where the library does not have it."""

    library: shared_steps.SharedStep | None


@blueprint.get("/<playbook_id>/draft/steps/<key>/library", responses={200: BesideLibrary, **_READ})
def get_shared_step(path: StepOfDraftPath) -> Response:
    """Who else uses a step, and whether the draft says what the library says of it."""
    with context().database.reading() as db:
        return reply(BesideLibrary(library=shared_steps.shared_step(db, path.playbook_id, path.key)))


@blueprint.get("/<playbook_id>/draft/steps/<key>/everywhere", responses={200: shared_steps.WouldBecome, **_READ})
def get_would_become(path: StepOfDraftPath) -> Response:
    """What the figures of the playbooks that share a step would become with this draft's text of it."""
    with context().database.reading() as db:
        return reply(shared_steps.would_become(db, path.playbook_id, path.key))
