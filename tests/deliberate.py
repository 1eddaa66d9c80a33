"""Deliberate faults: each is put into a copy of the sources, upon which tests are then run that must notice it."""

import os
import shutil
import subprocess
import sys
from pathlib import Path
from typing import NamedTuple

__all__ = ["Fault", "is_caught"]

SOURCES = Path(__file__).parents[1] / "src"


class Fault(NamedTuple):
    """What it does, the module, what the code says, and what the faulty one says."""

    does: str
    module: str
    sound: str
    faulty: str


def is_caught(fault: Fault, tests: tuple[str, ...], folder: Path) -> bool:
    """Whether one of the tests fails upon the sources with that fault in them, which are laid into the folder."""
    shutil.copytree(SOURCES, folder / "src", ignore=shutil.ignore_patterns("web", "__pycache__"))
    file = folder / "src" / "mildladder" / fault.module
    text = file.read_text()
    assert text.count(fault.sound) == 1, f"{fault.module} no longer says once: {fault.sound}"
    file.write_text(text.replace(fault.sound, fault.faulty))
    done = subprocess.run(
        [sys.executable, "-m", "pytest", "-q", "-x", "-n", "0", "-p", "no:cacheprovider", *tests],
        env={**os.environ, "PYTHONPATH": str(folder / "src"), "UNSHRUNK": "1"},
        cwd=SOURCES.parent,
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode in (0, 1), done.stdout[-2000:]
    return done.returncode == 1
