"""Queries for pictures: kept once by digest, never changed."""

from sqlalchemy.orm import Session

from mildladder.core.errors import NotFound
from mildladder.store.tables import PictureRow

__all__ = ["keep_picture", "picture"]


def keep_picture(session: Session, digest: str, media: str, data: bytes) -> None:
    """Keep a picture, if it is not kept already."""
    if session.get(PictureRow, digest) is None:
        session.add(PictureRow(digest=digest, media=media, data=data))
        session.flush()


def picture(session: Session, digest: str) -> PictureRow:
    """One picture. Raises NotFound."""
    row = session.get(PictureRow, digest)
    if row is None:
        raise NotFound(f"there is no picture '{digest}'")
    return row
