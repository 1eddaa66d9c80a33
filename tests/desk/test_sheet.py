"""The sheet that is taken along, and what is new on a ladder since somebody followed it."""

from mildladder.core.model import events as c
from mildladder.desk.guiding.climbs import record, start
from mildladder.desk.guiding.followed import new_since
from mildladder.desk.guiding.sheet import sheet
from tests.conftest import LEAD_ID
from tests.samples import NOON, gate


def test_a_sheet_holds_what_is_ahead_and_first_what_to_take_along(desk):
    with desk.writing() as session:
        start(session, "gate-arm-up", c.Started(facts={"model": "GR4"}), "climb-0001", LEAD_ID, NOON)
        record(session, "climb-0001", c.BaselineSeen(result="fails"), "key-00001", 1, LEAD_ID, NOON)
        before = sheet(session, "climb-0001", NOON)
        look = c.Answered(step="sensor-look", finding="clear")
        record(session, "climb-0001", look, "key-00002", 2, LEAD_ID, NOON)
        after = sheet(session, "climb-0001", NOON)
    assert before.rungs[0].title == "Read the home sensor"
    assert [rung.title for rung in after.rungs] == [rung.title for rung in before.rungs][-len(after.rungs) :]
    assert "Read the home sensor" not in [rung.title for rung in after.rungs]
    assert "Read the home sensor: Reads clear" in after.told
    assert all("{" not in (do.copy_text or "") for rung in before.rungs for do in rung.do)


def test_what_is_new_is_said_of_each_rung_once():
    before = gate()
    swapped = gate(ladder=[*reversed([rung.model_dump(by_alias=True, exclude_none=True) for rung in before.ladder])])
    assert new_since(before, before, 1) == ()
    said = [one.says for one in new_since(before, swapped, 3)]
    assert said
    assert all("stood at" in one and "in edition 3" in one for one in said)
    first = before.ladder[0].step
    other = before.step(first).model_copy(update={"expect": "Something else"})
    reworded = before.model_copy(update={"steps": tuple(other if s.id == first else s for s in before.steps)})
    (only,) = new_since(before, reworded, 1)
    assert (only.step, only.says) == (other.id, f"1 reads otherwise: {other.title}")
    without = before.model_copy(update={"ladder": before.ladder[1:]})
    assert new_since(without, before, 1)[0].says == f"1 is new: {other.title}"
