"""Values filled into texts and commands, and what is read to the caller."""

import pytest

from mildladder.core.climb.spoken import spoken_cost
from mildladder.core.climb.wording import Filler, names_in_step
from mildladder.core.ladder.conditions import World
from mildladder.core.ladder.messages import names_in
from mildladder.core.model import Instruction, Step
from tests.samples import gate


def instruction(**keys) -> Instruction:
    return Instruction.model_validate(keys)


def test_known_names_are_filled_and_unknown_ones_stay_to_be_seen():
    filler = Filler({"lane": "3"})
    assert filler.fill("lanectl --lane {lane} --gate {gate}") == "lanectl --lane 3 --gate {gate}"
    assert filler.strong("Lane {lane}") == "Lane **3**"


def test_what_is_not_known_is_a_blank_that_says_what_is_missing_and_no_name_of_files():
    filler = Filler({"lane": "3"}, {"lane": "3"}, asked={"gate": "Number of the gate?", "mode": "Mode"})
    assert filler.fill("{lane} {gate} {not mode} {side-panel}") == (
        "3 ‹Number of the gate› ‹other than Mode› ‹side panel›"
    )
    assert filler.strong("{lane} {gate}") == "**3** ‹Number of the gate›"
    do = [instruction(text="Run", copy="open {lane} {gate} {gate}"), instruction(text="Run", copy="open {lane}")]
    assert [(one.copy_text, one.waits_for) for one in filler.instructions(do, World())] == [
        ("open 3 ‹Number of the gate› ‹Number of the gate›", ("Number of the gate",)),
        ("open 3", ()),
    ]


def test_a_value_cannot_make_markup():
    assert Filler({"lane": "**3** <b> [x](y)"}).strong("{lane}") == r"**\*\*3\*\* \<b\> \[x\]\(y\)**"


def test_the_other_option_of_a_two_way_input():
    filler = Filler({"mode": "Open"}, {}, {"mode": ("Open", "Closed")})
    assert filler.fill("Set it to {not mode}") == "Set it to Closed"
    assert Filler({}, {}, {"mode": ("Open", "Closed")}).fill("{not mode}") == "{not mode}"
    assert names_in("{lane} and {not mode}") == ["lane", "mode"]


def test_only_instructions_for_this_unit_are_shown_and_doubtful_ones_say_where():
    do = [
        instruction(text="For all"),
        instruction(text="GR4 only", when="model is GR4"),
        instruction(text="Old ones", when="firmware below 4.2"),
    ]
    world = World(facts={"model": "GR6"}, types={"model": "choice", "firmware": "version"})
    made = Filler({}).instructions(do, world)
    assert [(one.text, one.only_where) for one in made] == [("For all", None), ("Old ones", "firmware below 4.2")]


def test_ways_are_filled_too_and_their_names_waited_for():
    ways = [[{"text": "Hold {key}"}], [{"text": "Or run", "copy": "cut {lane}", "hold": "PT10S"}]]
    step = Step.model_validate(
        {
            "id": "s",
            "title": "S",
            "kind": "fix",
            "do": [{"ways": ways}],
            "to_hand": [{"what": "Key of {gate}", "kind": "tool"}],
        }
    )
    assert names_in_step(step) == ["key", "lane", "gate"]
    (made,) = Filler({}, {"lane": "3"}).instructions(step.do, World())
    assert made.ways[1].do[0].copy_text == "cut 3"
    assert made.ways[1].do[0].hold == 10


@pytest.mark.parametrize(
    ("worked", "first"),
    [({}, "By hand"), ({"By key": 4}, "By hand"), ({"By key": 5}, "By key"), ({"By key": 5, "By hand": 6}, "By hand")],
)
def test_the_way_that_worked_most_often_is_told_first_once_enough_cases_say_so(worked, first):
    ways = [[{"text": "By hand"}], [{"text": "By key"}]]
    step = Step.model_validate({"id": "s", "title": "S", "kind": "fix", "do": [{"ways": ways}]})
    (made,) = Filler({}, worked=worked).instructions(step.do, World())
    assert next((way.words, way.worked) for way in made.ways) == (first, worked.get(first, 0))
    assert {way.words for way in made.ways} == {"By hand", "By key"}


def test_pictures_are_known_by_their_digest():
    do = [instruction(text="Look", picture="a.png"), instruction(text="Look", picture="b.png")]
    assert [one.picture for one in Filler({}, None, None, {"a.png": "abc"}).instructions(do, World())] == ["abc", None]


def test_what_is_told_to_the_caller():
    assert spoken_cost(gate().step("clear-hold")) == "This takes about 3 minutes."
    assert spoken_cost(gate().step("save-counts")) is None
    assert spoken_cost(gate().step("reload-program")) == (
        "This takes about 11 minutes; in about half of these cases much of what is stored is lost for good."
    )
    own = Step.model_validate({"id": "s", "title": "S", "kind": "fix", "say": "It will be dark"})
    assert spoken_cost(own) == "It will be dark"
