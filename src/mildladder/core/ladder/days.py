"""The desk's own day and month, which texts may name without anybody being asked for them."""

from collections.abc import Container
from datetime import datetime

__all__ = ["DAY_NAMES", "day_values"]

DAY_NAMES = ("today", "month")


def day_values(at: datetime, taken: Container[str] = ()) -> dict[str, str]:
    """The day and month of that moment (ISO 8601) by the clock of the machine that serves the desk, by name.

    taken: names that the playbook gives to values of its own.
    """
    here = at.astimezone()
    made = {"today": f"{here:%Y-%m-%d}", "month": f"{here:%Y-%m}"}
    return {name: value for name, value in made.items() if name not in taken}
