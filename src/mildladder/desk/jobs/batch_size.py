"""How much of long work to do at once, so that the database is held only for so long."""

from dataclasses import dataclass

__all__ = ["BatchSize"]

# What is written together for about so long before others may write (`docs/measured/log.json`).
_HOLD_S = 0.11


@dataclass
class BatchSize:
    """The size of the next batch, by how long the last one took. fewest, most: never less or more at once."""

    size: int
    fewest: int
    most: int

    def adjust(self, seconds: float) -> None:
        """The last batch held the database for so long."""
        fitting = self.size * min(1.5, max(0.3, _HOLD_S / max(seconds, 0.001)))
        self.size = max(self.fewest, min(self.most, round(fitting)))
