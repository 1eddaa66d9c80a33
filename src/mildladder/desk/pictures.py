"""Show the pictures that editions and drafts keep."""

from sqlalchemy.orm import Session

from mildladder.store.pictures import picture as stored
from mildladder.store.tables import PictureRow

__all__ = ["picture"]


def picture(session: Session, digest: str) -> PictureRow:
    """One picture by its digest. Raises NotFound."""
    return stored(session, digest)
