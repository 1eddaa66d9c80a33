"""However the cases of a unit come and go, they stand to each other as all that are there do at once."""

from datetime import timedelta
from itertools import count

import hypothesis.strategies as st
from hypothesis import HealthCheck, given, settings

from mildladder.core.model import Case
from mildladder.core.tally.returns import links_of, visit_of
from mildladder.core.tally.signature import signature_text, tried_part
from mildladder.store.log.rows import load_cases
from mildladder.store.log.writing import Logging, log_cases, unlog_cases
from tests.conftest import SHELL
from tests.samples import NOON

WINDOW = 14
_units = count(1)


@st.composite
def units(draw) -> list[Case]:
    """The cases of one unit: some within minutes of each other, some open for weeks."""
    unit = f"U-{next(_units)}"
    made = []
    for number in range(draw(st.integers(2, 7))):
        opened = NOON - timedelta(
            days=draw(st.sampled_from([0, 1, 5, 13, 14, 30, 90])), minutes=draw(st.sampled_from([0, 30, 60, 90, 120]))
        )
        closed = opened + timedelta(minutes=draw(st.sampled_from([0, 10, 90, 60 * 24 * 20])))
        end = draw(st.sampled_from(["resolved", "resolved", "handed-off"]))
        step = draw(st.sampled_from(["clear-hold", "sensor-look"]))
        outcome = "fixed" if end == "resolved" else "no-change"
        made.append(
            Case.model_validate(
                {
                    "case": f"{unit}-{number}",
                    "opened": opened,
                    "closed": closed,
                    "symptom": "gate-arm-up",
                    "unit": unit,
                    "attempts": [{"step": step, "outcome": outcome}],
                    "end": end,
                    "resolved_by": step if end == "resolved" else None,
                    "came_back": closed + timedelta(days=draw(st.sampled_from([1, 20])))
                    if draw(st.integers(0, 5)) == 0
                    else None,
                }
            )
        )
    return made


def _stand(session, unit):
    """When each case of a unit came back, and whether it is a double, as the log says."""
    query = (
        "SELECT id, came_back, is_double FROM cases JOIN strata ON strata.number = cases.stratum WHERE unit = ? "
        "ORDER BY id"
    )
    rows = session.connection().exec_driver_sql(query, (unit,)).all()
    at = {row.case.case: row.came_back for row in load_cases(session.connection(), "unit", [unit])}
    return {row[0]: (at[row[0]], bool(row[2])) for row in rows}


@given(unit=units(), data=st.data())
@settings(max_examples=150, deadline=None, suppress_health_check=list(HealthCheck))
def test_cases_stand_as_if_all_had_come_at_once(database, unit, data):
    """They come in any order and in parts; some go again."""
    coming = data.draw(st.permutations(unit))
    log = Logging("import", SHELL, NOON, WINDOW)
    there: dict[str, Case] = {}
    while coming:
        size = data.draw(st.integers(1, 3))
        some, coming = coming[:size], coming[size:]
        with database.writing() as session:
            log_cases(session, some, log)
            there |= {case.case: case for case in some}
            if data.draw(st.integers(0, 3)) == 0:
                gone = data.draw(st.sampled_from(sorted(there)))
                unlog_cases(session, [row.number for row in load_cases(session.connection(), "id", [gone])], WINDOW)
                del there[gone]
        visits = [visit_of(case, tried_part(signature_text(case))) for case in there.values()]
        wanted = {
            visit.id: (link.came_back, link.is_double) for visit, link in links_of(visits, timedelta(days=WINDOW))
        }
        with database.reading() as session:
            assert _stand(session, unit[0].unit) == wanted


def _case(name: str, days: float, closed_after: timedelta) -> Case:
    opened = NOON - timedelta(days=days)
    return Case.model_validate(
        {
            "case": name,
            "opened": opened,
            "closed": opened + closed_after,
            "symptom": "gate-arm-up",
            "unit": "U-long",
            "attempts": [{"step": "clear-hold", "outcome": "fixed"}],
            "end": "resolved",
            "resolved_by": "clear-hold",
        }
    )


def test_a_long_case_seen_for_what_came_near_its_beginning_keeps_the_first_return(database):
    """What came near its end is looked at from its own day alone, and the case it came back with is not seen from there."""
    long = _case("long", 30, timedelta(days=20))
    first, second = _case("first", 1, timedelta(minutes=10)), _case("second", 0, timedelta(minutes=10))
    beside, third = _case("beside", 30, timedelta(minutes=10)), _case("third", 0, timedelta(minutes=20))
    log = Logging("import", SHELL, NOON, WINDOW)
    for some in ([long], [second], [first], [beside, third]):
        with database.writing() as session:
            log_cases(session, some, log)
    with database.reading() as session:
        assert _stand(session, "U-long")["long"][0] == first.opened


def test_a_short_case_beside_one_that_was_open_for_weeks_changes_no_return(database):
    """What came of the long one lies beyond what is looked at for the short one."""
    long = _case("long", 60, timedelta(days=30))
    back = _case("back", 25, timedelta(minutes=10))
    beside = _case("beside", 59.99, timedelta(minutes=10))
    log = Logging("import", SHELL, NOON, WINDOW)
    with database.writing() as session:
        log_cases(session, [long, back], log)
        log_cases(session, [beside], log)
        assert _stand(session, "U-long")["long"][0] == back.opened
        unlog_cases(session, [row.number for row in load_cases(session.connection(), "id", ["beside"])], WINDOW)
        assert _stand(session, "U-long")["long"][0] == back.opened


def test_a_case_whose_tries_cannot_be_read_stops_no_other(database):
    log = Logging("import", SHELL, NOON, WINDOW)
    with database.writing() as session:
        log_cases(session, [_case("broken", 20, timedelta(minutes=10))], log)
        session.connection().exec_driver_sql(
            "UPDATE signatures SET text = ? WHERE number = (SELECT signature FROM cases WHERE id = 'broken')", ("{",)
        )
        log_cases(session, [_case("next", 12, timedelta(minutes=10)), _case("last", 10, timedelta(minutes=10))], log)
        found = session.connection().exec_driver_sql("SELECT id, came_back FROM cases WHERE unit = 'U-long'").all()
    assert {name: bool(came_back) for name, came_back in found} == {"broken": False, "next": True, "last": False}
