"""The ladder as a list of things to come to, and as the rows that are drawn."""

from mildladder.core.climb.agenda import AgainTask, EndTask, RungTask, TrialTask, tasks
from mildladder.core.ladder.walk import rows_of
from tests.samples import gate

LADDER = [
    {
        "step": "sensor-look",
        "on": {
            "blocked": [{"step": "wave-through"}, {"hand_off": "lane-crew"}],
            "clear": [{"step": "clear-hold", "on": {"could-not": [{"step": "save-counts"}, {"again": True}]}}],
        },
    },
    {"step": "clear-hold", "trial": "both"},
    {"step": "reload-program", "trial": "both"},
    {"step": "save-counts", "trial": "alone"},
]


def test_rows_are_labelled_below_their_rung_with_what_opens_them():
    rows = rows_of(gate(ladder=LADDER))
    assert [(row.label, row.depth, row.via) for row in rows] == [
        ("1", 0, None),
        ("1a", 1, "Reads blocked"),
        ("1b", 1, None),
        ("1c", 1, "Reads clear"),
        ("1d", 2, "Could not be done"),
        ("1e", 2, None),
        ("2", 0, None),
        ("3", 0, None),
        ("4", 0, None),
    ]
    assert rows[4].path == "ladder.0.on.clear.0.on.could-not.0"


def test_many_side_rungs_go_on_after_z():
    rail = [{"step": "wave-through"}] * 28
    labels = [row.label for row in rows_of(gate(ladder=[{"step": "sensor-look", "on": {"blocked": rail}}]))]
    assert labels[25:29] == ["1y", "1z", "1aa", "1ab"]


def test_neighbours_of_one_trial_are_tested_after_the_last_and_a_trial_of_one_is_a_plain_rung():
    made = tasks(gate(ladder=LADDER).ladder, "ladder")
    assert [type(task) for task in made] == [RungTask, RungTask, RungTask, TrialTask, RungTask]
    assert [task.in_trial for task in made if isinstance(task, RungTask)] == [False, True, True, False]
    assert made[3].path == "ladder.2"


def test_ends_and_again_keep_the_place_that_they_speak_of():
    rung = gate(ladder=LADDER).ladder[0]
    host = RungTask("ladder.0", rung)
    end = tasks(rung.on["blocked"], "ladder.0.on.blocked", host)[1]
    assert end == EndTask("ladder.0.on.blocked.1", hand_off="lane-crew")
    inner = rung.on["clear"][0]
    again = tasks(inner.on["could-not"], "p", RungTask("ladder.0.on.clear.0", inner))[1]
    assert again == AgainTask("ladder.0.on.clear.0", inner)
