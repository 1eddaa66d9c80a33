"""Deliberate faults put into the log, each of which the moves of `test_log_machine` must notice.

Each is applied to a copy of the sources, which the machine is then run upon.
"""

import os
import shutil
import subprocess
import sys
from pathlib import Path

SOURCES = Path(__file__).parents[2] / "src"
LOG = "mildladder/store/log/"
# what it does, the module, what the code says, what the faulty one says
FAULTS = (
    ("facts are left out of the key", LOG + "keys.py", "if fact in counting.facts]", "if False]"),
    ("the origin is left out of the key", LOG + "keys.py", "is_guided=origin in GUIDED", "is_guided=True"),
    ("the site is left out of the key", LOG + "keys.py", "site=case.site", 'site=""'),
    ("the baseline is left out of the signature", "mildladder/core/evidence/signature.py", "ended_by, case.baseline, passed)", "ended_by, None, passed)"),
    ("passed rungs are left out of the signature", "mildladder/core/evidence/signature.py", "case.baseline, passed)", "case.baseline, ())"),
    ("no case comes back but those that say so", LOG + "returns.py", "    if visit.is_cured:\n        place", "    if False:\n        place"),
    ("the latest return counts, not the earliest", LOG + "returns.py", "else min(found, openings[place])", "else max(found, openings[place])"),
    ("what a correction takes away stays a return", LOG + "returns.py", "for visit in changed:\n        moments", "for visit in added:\n        moments"),
    ("doubles are counted like others", LOG + "returns.py", "is_double = before is not None and visit.opened", "is_double = False and visit.opened"),
    ("cases of the log are not linked anew", LOG + "writing.py", "    _relink(session, moved, changes)\n", ""),
    ("minutes are added and never taken away", LOG + "tallies.py", "counts[2] += sign * case.seconds", "counts[2] += case.seconds"),
    ("counts of steps stay with the day that is folded", LOG + "tallies.py", '("step_tallies", "step, what, value", ("count",)),', ""),
    ("a fact that the desk comes to know changes no key", "mildladder/desk/facts.py", "recount_fact(session, fact.id)", "pass"),
    ("a merge upon a merge loses the first", "mildladder/store/library.py", "while new in into:", "while False:"),
    ("steps count under the names that they had", LOG + "keys.py", "step_counts(case, steps_in(text), came_back)", "step_counts(case, tuple(one.step for one in case.attempts), came_back)"),
    ("what an import replaced is lost when it is undone", LOG + "undoing.py", "    _put_back(session, number, return_window, [one.id for one in found])\n", ""),
    ("a case of the other origin is replaced", LOG + "writing.py", "(one.of_log(\"origin\") in GUIDED) != is_guided", "False"),
    ("a clock that goes back folds back", LOG + "tallies.py", 'if until <= (setting(session, FOLDED) or ""):', 'if until == (setting(session, FOLDED) or ""):'),
)  # fmt: skip


def is_caught(number: int, folder: Path) -> bool:
    """Whether the machine fails upon the sources with that fault in them."""
    _, module, sound, faulty = FAULTS[number]
    shutil.copytree(SOURCES, folder / "src", ignore=shutil.ignore_patterns("web", "__pycache__"))
    file = folder / "src" / module
    text = file.read_text()
    assert text.count(sound) == 1, f"{module} no longer says: {sound}"
    file.write_text(text.replace(sound, faulty))
    done = subprocess.run(
        [sys.executable, "-m", "pytest", "-q", "-x", "-p", "no:cacheprovider", "tests/store/test_log_machine.py"],
        env={**os.environ, "PYTHONPATH": str(folder / "src"), "UNSHRUNK": "1"}, cwd=SOURCES.parent, capture_output=True, text=True,
        check=False,
    )  # fmt: skip
    assert done.returncode in (0, 1), done.stdout[-2000:]
    return done.returncode == 1
