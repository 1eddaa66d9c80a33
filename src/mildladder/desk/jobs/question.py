"""What is asked of a worker: a typed question, whose fields are all that its answer depends on."""

from typing import Any, ClassVar

from mildladder.core.model import Shape

__all__ = ["Question"]


class Question(Shape):
    """A question about a subject. Two questions with the same fields are the same one, and are answered once.

    kind: name of the job kind that answers it. ask: the type of question, unique among all kinds. version: the version
    of what the answer is about, such as a revision of a draft; None for jobs that change something instead.
    unasked_fields: fields that the worker needs but that do not tell two questions apart.
    """

    kind: ClassVar[str]
    unasked_fields: ClassVar[frozenset[str]] = frozenset()
    ask: str
    subject: str
    version: int | None = None

    def asked(self) -> dict[str, Any]:
        """The fields that tell it from other questions about this version of the subject, as stored."""
        return self.model_dump(mode="json", exclude={"subject", "version", *self.unasked_fields})

    def unasked(self) -> dict[str, Any]:
        """The fields that are stored beside those."""
        return self.model_dump(mode="json", include=set(self.unasked_fields))
