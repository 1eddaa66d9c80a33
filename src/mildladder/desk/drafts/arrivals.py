"""Wait for an edit that is on its way: figures may be asked for at once with it, and need not wait for its answer."""

from collections import OrderedDict
from threading import Condition

__all__ = ["Arrivals"]

_PATIENCE_S = 0.5
_MOST = 1000


class Arrivals:
    """The newest revision of each draft that was committed by this process."""

    def __init__(self) -> None:
        self._changed = Condition()
        self._newest: OrderedDict[str, int] = OrderedDict()

    def arrived(self, playbook_id: str, revision: int) -> None:
        """A revision is committed."""
        with self._changed:
            self._newest[playbook_id] = max(revision, self._newest.get(playbook_id, 0))
            self._newest.move_to_end(playbook_id)
            if len(self._newest) > _MOST:
                self._newest.popitem(last=False)
            self._changed.notify_all()

    def wait(self, playbook_id: str, revision: int) -> None:
        """Return when that revision is committed, or was not in half a second."""
        with self._changed:
            self._changed.wait_for(lambda: self._newest.get(playbook_id, 0) >= revision, _PATIENCE_S)
