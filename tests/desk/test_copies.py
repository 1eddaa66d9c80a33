"""How often a safeguard's copy was needed, and how good it was, as evidence tells it."""

from mildladder.desk.evidence.symptom import evidence
from mildladder.desk.log.intake import import_cases
from tests.conftest import SHELL
from tests.samples import NOON, case

HOW = (None, "whole", "whole", "partly", "no")


def test_evidence_tells_of_a_safeguard_how_often_its_copy_was_needed_and_what_it_put_right(desk):
    saved = {"step": "save-counts", "outcome": "done"}
    lost = [
        {"step": "reload-program", "outcome": "no-change", "harmed": ["data"], "safeguard_used": "save-counts"}
        | ({"put_right": how} if how else {})
        for how in HOW
    ]
    cases = [case(n, attempts=[saved, one]) for n, one in enumerate(lost)]
    cases += [case(10 + n, attempts=[saved]) for n in range(4)]
    with desk.writing() as session:
        import_cases(session, cases, "import", SHELL, NOON)
    with desk.reading() as session:
        rows = {row.step: row for row in evidence(session, "gate-arm-up", NOON.date()).rows}
    used = rows["save-counts"].copy_use
    assert (used.needed, used.whole, used.partly, used.no) == (5, 2, 1, 1)
    assert rows["save-counts"].counts.done == 9
    assert rows["reload-program"].copy_use is None
