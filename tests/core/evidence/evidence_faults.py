"""Faults in the estimate that its tests must notice; all are put in by `make soak`."""

from tests.deliberate import Fault

__all__ = ["FAULTS", "TESTS"]

TESTS = (
    "tests/core/evidence/test_records.py",
    "tests/core/evidence/test_posterior.py",
    "tests/core/evidence/test_differences.py",
    "tests/core/evidence/test_forward.py",
    "tests/core/evidence/test_estimate.py",
)

_RECORDS = "core/evidence/records.py"
_POSTERIOR = "core/evidence/posterior.py"
_LEARNABLE = "core/evidence/learnable.py"
_ESTIMATE = "core/evidence/estimate.py"

FAULTS = (
    Fault(
        "a step that was tried before the call counts in full",
        _POSTERIOR,
        "matrix[place, list(row.before)] = 0.5",
        "matrix[place, list(row.before)] = 1.0",
    ),
    Fault(
        "tries before the call have no companion",
        _RECORDS,
        "counts[maker.companion(events.before), ()] -= tally.count",
        "pass",
    ),
    Fault("what did not take counts as tried", _RECORDS, 'and attempt.took != "no"', ""),
    Fault("a trial that nothing ended is no look", _RECORDS, "looks += 1", "looks += 0"),
    Fault(
        "a look at the start is forgotten", _RECORDS, 'looks=looks + (signature.baseline == "fails"),', "looks=looks,"
    ),
    Fault(
        "a step that had failed stays in the event",
        _RECORDS,
        "elif left := tuple(step for step in cures if step not in failed):",
        "elif left := cures:",
    ),
    Fault(
        "cases of perhaps two faults speak",
        _RECORDS,
        'return not tally.is_double and not any(one.result == "better" for one in tally.signature.attempts)',
        "return not tally.is_double",
    ),
    Fault(
        "units whose fact nobody knows are a group of their own",
        _LEARNABLE,
        "alike = {fact: self._alike(fact, known[fact]) for fact in self.conditions if fact in known}",
        'alike = {fact: self._alike(fact, known.get(fact, "")) for fact in self.conditions}\n'
        "        if not known:\n            return (0,)",
    ),
    Fault(
        "a variant has the chances of the step",
        _LEARNABLE,
        "return self.number_of[Source(step, variant if names_own else None)]",
        "return self.number_of[Source(step, None)]",
    ),
    Fault("the prior of a listed chance is twice as strong", _POSTERIOR, "_CURE = 2.0", "_CURE = 4.0"),
    Fault("nothing clears by itself", _POSTERIOR, "not_ended = (1 - clear) * np.exp(", "not_ended = np.exp("),
    Fault(
        "the causes of sorts of units do not scatter",
        _POSTERIOR,
        "value += (alpha * log_causes - gammaln(alpha)).sum(axis=(0, 1))",
        "value += (alpha * log_causes).sum(axis=(0, 1))",
    ),
    Fault(
        "if tried first is over all units",
        _ESTIMATE,
        "groups = list(model.groups_of(step))\n    cures",
        "groups = list(range(len(model.groups)))\n    cures",
    ),
    Fault("intervals are half as wide", _ESTIMATE, "[0.025, 0.975]", "[0.25, 0.75]"),
    Fault(
        "a fact that is asked late is held against all tries",
        "core/evidence/differences.py",
        "(key, cell, cell.score(found.by_fact[key[:2]]))",
        "(key, cell, cell.score(found.whole[key[0]]))",
    ),
    Fault(
        "drift is told where a step works better",
        "core/evidence/differences.py",
        "z = before.score(whole)\n",
        "z = abs(before.score(whole))\n",
    ),
    Fault(
        "young cures count as having held",
        "core/evidence/comebacks.py",
        "window, (today - date.fromisoformat(one.period)).days",
        "window, window",
    ),
    Fault(
        "what the lead changed since is overruled",
        "core/evidence/carried.py",
        "if place is not None and _said(fixes, cause) == _said(listed, cause):",
        "if place is not None:",
    ),
)
