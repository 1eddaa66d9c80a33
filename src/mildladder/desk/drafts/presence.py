"""Who looks at which draft just now, so that nobody is surprised by a colleague's hand. Nothing of it is kept."""

from datetime import datetime, timedelta
from threading import Lock

__all__ = ["Presence"]

# A page asks every few seconds; whoever has not asked for longer has gone.
_GONE_AFTER = timedelta(seconds=20)
_MOST = 1000


class Presence:
    """Who was seen at each draft, and when."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._seen: dict[tuple[str, str], datetime] = {}

    def seen(self, playbook_id: str, name: str | None, now: datetime) -> tuple[str, ...]:
        """Note somebody at a draft (None: nobody who has said who they are); who else is there, by name."""
        with self._lock:
            if name is not None:
                self._seen[playbook_id, name] = now
            if len(self._seen) > _MOST:
                self._seen = {at: when for at, when in self._seen.items() if now - when < _GONE_AFTER}
            here = [
                other
                for (draft, other), when in self._seen.items()
                if draft == playbook_id and other != name and now - when < _GONE_AFTER
            ]
        return tuple(sorted(here))
