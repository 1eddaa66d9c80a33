"""How much processor time the command line takes to start, beside a bare interpreter with what it is made of."""

import resource
import subprocess
import sys
from pathlib import Path

__all__ = ["starts"]

_FILE = Path(__file__).parent.parent / "docs" / "examples" / "five-rungs.yaml"
_BARE = [sys.executable, "-c", "import click, pydantic; pydantic.BaseModel"]
_COMMAND = [sys.executable, "-m", "mildladder.cli"]


def starts() -> dict[str, float]:
    """Seconds of processor time, the least of several runs, and how many times the bare start that is."""
    bare = _processor_seconds(_BARE)
    found = {"bare_s": bare}
    for name, arguments in (("help", ["--help"]), ("version", ["--version"]), ("forecast", ["forecast", str(_FILE)])):
        taken = _processor_seconds([*_COMMAND, *arguments])
        found |= {f"{name}_s": taken, f"{name}_times_bare": round(taken / bare, 2)}
    return found


def _processor_seconds(command: list[str], times: int = 7) -> float:
    least = float("inf")
    for _ in range(times):
        before = resource.getrusage(resource.RUSAGE_CHILDREN)
        subprocess.run(command, stdout=subprocess.DEVNULL, check=True)
        after = resource.getrusage(resource.RUSAGE_CHILDREN)
        least = min(least, after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime)
    return round(least, 3)
