"""What makes two playbooks the same: a digest that desks can compare without sending the documents."""

import hashlib
import json

from mildladder.core.model import Playbook

__all__ = ["content_hash"]


def content_hash(playbook: Playbook) -> str:
    """SHA-256 of the document as its author wrote it, keys sorted; unset keys and the order of keys do not matter."""
    data = playbook.model_dump(mode="json", by_alias=True, exclude_unset=True)
    return hashlib.sha256(json.dumps(data, sort_keys=True, ensure_ascii=False).encode()).hexdigest()
