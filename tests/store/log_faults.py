"""Deliberate faults put into the log, each of which `TESTS` must notice."""

from tests.deliberate import Fault

TESTS = ("tests/store/test_log_machine.py", "tests/store/test_returns.py")
LOG = "store/log/"
FAULTS = (
    Fault("facts are left out of the key", "core/tally/keys.py", "if fact in counting.facts]", "if False]"),
    Fault("the origin is left out of the key", "core/tally/keys.py", "is_guided=origin in GUIDED", "is_guided=True"),
    Fault("the site is left out of the key", "core/tally/keys.py", "site=case.site", 'site=""'),
    Fault(
        "the baseline is left out of the signature",
        "core/tally/signature.py",
        "resolved_by or None, case.baseline, passed)",
        "resolved_by or None, None, passed)",
    ),
    Fault(
        "passed rungs are left out of the signature",
        "core/tally/signature.py",
        "case.baseline, passed)",
        "case.baseline, ())",
    ),
    Fault(
        "no case comes back but those that say so",
        "core/tally/returns.py",
        "    if visit.is_cured:\n        place",
        "    if False:\n        place",
    ),
    Fault(
        "the latest return counts, not the earliest",
        "core/tally/returns.py",
        "else min(found, openings[place])",
        "else max(found, openings[place])",
    ),
    Fault(
        "what a correction takes away stays a return",
        LOG + "returns.py",
        "for visit in changed:\n        moments",
        "for visit in added:\n        moments",
    ),
    Fault(
        "all of how a case stands is worked out, touched or not",
        "core/tally/returns.py",
        "if changed is None or visit.link is None:",
        "if True:",
    ),
    Fault(
        "what has come back never comes back earlier",
        LOG + "returns.py",
        "(came_back IS NULL OR came_back > ?)",
        "(came_back IS NULL OR (came_back > ? AND 0))",
    ),
    Fault("a double of another double is looked for too near", LOG + "returns.py", "opened - 2 * TWICE", "opened"),
    Fault(
        "of cases far apart only the first are looked for",
        LOG + "returns.py",
        "opened, closed = visit.opened, visit.closed\n",
        "return\n",
    ),
    Fault(
        "who is alone by now is looked at, touched or not",
        "core/tally/returns.py",
        "len(visits) == 1 and (changed is None or visits[0].number is None)",
        "len(visits) == 1",
    ),
    Fault(
        "doubles are counted like others",
        "core/tally/returns.py",
        "is_double = before is not None and visit.opened",
        "is_double = False and visit.opened",
    ),
    Fault("cases of the log are not linked anew", LOG + "writing.py", "    relink(session, moved, changes)\n", ""),
    Fault(
        "minutes are added and never taken away",
        LOG + "tallies.py",
        "counts[2] += sign * case.seconds",
        "counts[2] += case.seconds",
    ),
    Fault(
        "counts of steps stay with the day that is folded",
        LOG + "tallies.py",
        '("step_tallies", "step, what, value", ("count",)),',
        "",
    ),
    Fault(
        "a fact that the desk comes to know changes no key",
        "desk/library/facts.py",
        "count_fact_anew(session, fact.id, who, now)",
        "pass",
    ),
    Fault("a merge upon a merge loses the first", "store/library.py", "while new in into:", "while False:"),
    Fault(
        "steps count under the names that they had",
        "core/tally/counts.py",
        "steps = [(aliases.get(step, step), what, value)",
        "steps = [(step, what, value)",
    ),
    Fault(
        "what an import replaced is lost when it is undone",
        LOG + "undoing.py",
        "    _put_back(session, number, return_window, [one.id for one in found])\n",
        "",
    ),
    Fault(
        "a case of the other origin is replaced",
        LOG + "writing.py",
        '(one.of_log("origin") in GUIDED) != is_guided',
        "False",
    ),
    Fault(
        "a clock that goes back folds back",
        LOG + "tallies.py",
        'if until <= (setting(session, FOLDED) or ""):',
        'if until == (setting(session, FOLDED) or ""):',
    ),
)
