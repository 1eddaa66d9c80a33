"""Deliberate faults put into the order and into what it and the forecast judge by; each must be noticed by the
comparisons with every order there is and with the slow twin. The faults of the forecast's own flow stand with it."""

from tests.deliberate import Fault

# The quick ones first: a fault ends the run at the first test that notices it.
TESTS = (
    "tests/core/ladder/test_bonds.py",
    "tests/core/ladder/test_causes.py",
    "tests/core/figures/test_judgement.py",
    "tests/core/figures/test_forecast.py::test_every_figure_equals_that_of_the_slow_twin_on_hundreds_of_ladders",
    "tests/core/ordering/test_best.py::test_it_equals_brute_force_on_ladders_of_five_blocks",
)
BLOCKS, LATENT, EXACT, MAPS = (f"core/ordering/{name}.py" for name in ("blocks", "latent", "exact", "maps"))
JUDGED, CAUSES, UNITS, BONDS = (
    "core/figures/judgement.py",
    "core/ladder/causes.py",
    "core/ladder/units.py",
    "core/ladder/bonds.py",
)
FAULTS = (
    Fault(
        "a keep group is torn apart",
        BLOCKS,
        'groups.setdefault(f"keep {keep}" if keep else',
        'groups.setdefault(f"keep {keep}" if False else',
    ),
    Fault("pins are forgotten", BLOCKS, "made = [*self._bonds(), *self._pins()]", "made = [*self._bonds()]"),
    Fault(
        "pinned blocks are not exempt from mildest first",
        BLOCKS,
        "None if self._pin(block) else self._own_grade(block)",
        "self._own_grade(block)",
    ),
    Fault(
        "a block's grade is not lowered to what hangs on it",
        BLOCKS,
        "None if grade is None else min(grade, low)",
        "grade",
    ),
    Fault(
        "the grade of a block is its lowest",
        BLOCKS,
        "return max(grades, default=None)",
        "return min(grades, default=None)",
    ),
    Fault(
        "grades are taken bare",
        BLOCKS,
        "risk_grade(on_unit(step, group.facts, types), standing)",
        "risk_grade(on_unit(step, group.facts, types))",
    ),
    Fault("grades are taken on any one unit", BLOCKS, "return max(risk_grade(", "return min(risk_grade("),
    Fault("a trial is parted", BLOCKS, "rung.trial != ladder[group[-1]].trial", "True"),
    Fault(
        "a step that is needed may stand below",
        BONDS,
        'yield from ((needed, "needed") for needed in step.needs)',
        "yield from ()",
    ),
    Fault(
        "safeguards of variants may stand below",
        BONDS,
        "*(hazard for variant in step.varies for hazard in variant.hazards or ())",
        "",
    ),
    Fault("a condition's check may stand below", BONDS, "    if rung.when:\n", "    if False:\n"),
    Fault("every holder must stand above, not one", BONDS, "return any(place[number]", "return all(place[number]"),
    Fault(
        "what a piece looks at is not what others did",
        LATENT,
        "its.does & mine.looks or its.finds & mine.looks_at",
        "False",
    ),
    Fault(
        "pieces leave the unit where they began",
        LATENT,
        "            lands[here] = where\n",
        "            lands[here] = footing\n",
    ),
    Fault("what is left is not lessened", LATENT, "            keep += mass\n", "            keep += 1\n"),
    Fault(
        "coins fall the other way",
        LATENT,
        'node.done = turns["coin", node.index].astype(float)',
        'node.done = 1 - turns["coin", node.index].astype(float)',
    ),
    Fault(
        "leaving the last footing costs nothing",
        LATENT,
        "return np.array(leave) + self.plan.hand_off.effort",
        "return 0 * np.array(leave) + self.plan.hand_off.effort",
    ),
    Fault(
        "harm is not weighed in the recursion",
        EXACT,
        "base = {key: leg.effort[0] + rate * leg.harm[0]",
        "base = {key: leg.effort[0]",
    ),
    Fault(
        "changing over costs nothing",
        EXACT,
        "                    total = total + extras[way, kind, footing]\n",
        "                    pass\n",
    ),
    Fault("rules are not kept", EXACT, "free &= (sets & above) != 0", "pass"),
    Fault("the maps forget what is still looked at", MAPS, "if not pieces >> piece & 1\n", "if pieces >> piece & 1\n"),
    Fault(
        "the maps do not weigh harm", MAPS, "cost = best[number] + effort + rate * harm", "cost = best[number] + effort"
    ),
    Fault("a cause that facts make likelier is not", CAUSES, "cause.weight * _times(cause, world)", "cause.weight"),
    Fault("of what is likelier, the last counts alone", CAUSES, "math.prod(one.times for one", "max(one.times for one"),
    Fault(
        "a check's star is read for causes that it names",
        CAUSES,
        'f.given.get(cause.id, f.given.get("*", 0.0))',
        'f.given.get("*", f.given.get(cause.id, 0.0))',
    ),
    Fault(
        "causes split no units",
        UNITS,
        "    whens += [one.when for cause in playbook.causes for one in cause.likelier]\n",
        "",
    ),
    Fault(
        "the last variant counts, not the first",
        UNITS,
        "for at, variant in enumerate(step.varies) if",
        "for at, variant in reversed([*enumerate(step.varies)]) if",
    ),
    Fault("a hazard's own undo is not heeded", JUDGED, "UNDO_FACTORS[hazard.undo] if hazard.undo else undo", "undo"),
    Fault(
        "grades are not held up by the worst", JUDGED, "return max(least, min(grade, most))", "return min(grade, most)"
    ),
    Fault(
        "grades are not held down by the worst",
        JUDGED,
        "return max(least, min(grade, most))",
        "return max(least, grade)",
    ),
    Fault(
        "a search by halves never narrows",
        JUDGED,
        "return halvings + 2 * (count - 2**halvings) / count if is_found",
        "return float(count) if is_found",
    ),
    Fault("a fix that searches deduces the last", JUDGED, "(0 if is_fix else 1 / count)", "1 / count"),
    Fault("parts cost nothing", JUDGED, "+ effort.parts * weights.parts", ""),
)
