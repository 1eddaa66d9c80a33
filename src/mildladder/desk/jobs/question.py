"""What is asked of a worker: a typed question, whose fields are all that its answer depends on."""

from typing import Any, ClassVar

from mildladder.core.model import Shape

__all__ = ["Question"]


class Question(Shape):
    """What is asked about a subject; the same fields make the same question, which is worked out once.

    kind: of the job that answers it; ask: which of the questions of all kinds it is; version: of what the answer is
    about, such as the revision of a draft; None for work that answers nothing. not_asked: fields that carrying it out
    needs and that make no other question of it.
    """

    kind: ClassVar[str]
    not_asked: ClassVar[frozenset[str]] = frozenset()
    ask: str
    subject: str
    version: int | None = None

    def asked(self) -> dict[str, Any]:
        """What tells it from other questions about this version of the subject, as it is stored."""
        return self.model_dump(mode="json", exclude={"subject", "version", *self.not_asked})

    def beside(self) -> dict[str, Any]:
        """The rest of what is stored."""
        return self.model_dump(mode="json", include=set(self.not_asked))
