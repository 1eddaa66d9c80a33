"""Keep a picture that somebody puts into a draft."""

from datetime import datetime

from sqlalchemy.orm import Session

from mildladder.core.model import Shape
from mildladder.desk.drafts.drafting import FOR_GOOD, Sender, take
from mildladder.exchange.pictures import Picture, clean_picture
from mildladder.store import drafts
from mildladder.store.pictures import keep_picture

__all__ = ["PictureKept", "keep_in_draft", "read"]

_ENDINGS = {"image/png": "png", "image/jpeg": "jpg", "image/webp": "webp"}


class PictureKept(Shape):
    """Where a picture lies: the path by which texts name it, and the digest by which it is fetched."""

    path: str
    digest: str


def read(raw: bytes) -> Picture:
    """The picture that was sent. Raises BadInput for what is none."""
    return clean_picture(raw, "what was sent")


def keep_in_draft(session: Session, playbook_id: str, picture: Picture, who: int, now: datetime) -> PictureKept:
    """Keep a picture, and have the draft know where it lies. Raises NotFound for a playbook that nobody has."""
    path = f"pictures/{picture.digest[:12]}.{_ENDINGS[picture.media]}"
    newest = drafts.newest_revision(session, playbook_id)
    keep_picture(session, picture.digest, picture.media, picture.data)
    there = drafts.form_at(session, playbook_id, newest.number).get("pictures", {}).get(path)
    if there != picture.digest:
        sender = Sender("desk", newest.number + 1, f"desk-{newest.number + 1}", who)
        known = {"op": "set", "key": "playbook", "path": ["pictures", path], "was": there, "value": picture.digest}
        take(session, playbook_id, sender, [known], now, "A picture kept", FOR_GOOD, is_ours=True)
    return PictureKept(path=path, digest=picture.digest)
