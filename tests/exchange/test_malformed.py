"""A corpus of malformed playbook files: each with the line, path and sentence that must come of it."""

import io
import tracemalloc

import pytest

from mildladder.core.errors import BadInput
from mildladder.exchange.playbook_file import read_playbook

SOUND = """\
format: mild-ladder/playbook/1
id: gate
title: Gate arm stays raised
symptom: {says: "It is up"}
facts:
  - {id: model, ask: "Model?", type: choice, choices: {GR4: 0.6, GR6: 0.4}}
  - {id: firmware, ask: "Version?", type: version, shares: {"4.1": 0.3, "4.10": 0.7}}
causes:
  - {id: dirty, title: Dirty, layer: hardware, weight: 4}
footings:
  - {id: open, title: Panel open, enter: {hands_on: 3}, leave: {hands_on: 2}}
  - {id: deep, title: Lead off, within: open, enter: {hands_on: 1}, leave: {hands_on: 1}}
steps:
  - {id: look, title: Look, kind: check, findings: [{id: red, title: Red, given: {"*": 0.5}}, {id: blue, title: Blue, given: {"*": 0.5}}]}
  - {id: wipe, title: Wipe, kind: fix, fixes: {dirty: usually}, footing: open, proves: after-leaving, done: 0.9}
  - {id: save, title: Save, kind: safeguard}
  - {id: load, title: Load, kind: fix, hazards: [{kind: data, severity: 3, chance: 0.5, eased_by: save, eased_to: 0.1}]}
  - {id: find, title: Find, kind: check, search: {over: leads, count: 8, how: halves, round: {hands_on: 1}}, findings: [{id: found, title: F, given: {"*": 0.5}}, {id: none, title: N, given: {"*": 0.5}}]}
ladder:
  - {step: look, on: {red: [{step: wipe}]}}
  - {step: wipe, on: {could-not: [{step: save}, {again: true}]}}
  - {step: save, trial: both}
  - {step: load, trial: both, when: "model is GR4 and firmware below 4.2"}
  - {step: find}
hand_offs:
  - {id: crew, title: Crew}
"""

# what is replaced in the sound file, by what, the path of the error and a part of its sentence
BROKEN = [
    ("kind: safeguard", "kind: guard", "steps.2.kind", "'guard' is not one of"),
    ("title: Dirty, ", "", "causes.0.title", "the key 'title' is missing"),
    ("title: Gate arm stays raised", "title: Gate\ntitel: Gate", "titel", "did you mean 'title'"),
    ("{dirty: usually}", "{dirt: usually}", "steps.1.fixes.dirt", "did you mean 'dirty'"),
    ("{dirty: usually}", "{dirty: 1.5}", "steps.1.fixes.dirty", "a chance from 0 to 1"),
    ("{dirty: usually}", "{dirty: mostly}", "steps.1.fixes.dirty", "nearly-always, usually"),
    ("{GR4: 0.6, GR6: 0.4}", "{GR4: 0.6, GR6: 0.5}", "facts.0.choices", "sum to 1.1"),
    ('{"4.1": 0.3, "4.10": 0.7}', '{"4.1": 0.3, "-": 0.7}', "facts.1.shares.-", "is no version"),
    ("type: version, shares", "type: version, choices", "facts.1", "a choice fact has choices"),
    ("type: choice, choices: {GR4: 0.6, GR6: 0.4}", "type: choice", "facts.0", "a choice fact has choices"),
    ("weight: 4", "weight: 0", "causes", "sum to 0"),
    ("weight: 4", "weight: .nan", "causes.0.weight", "finite"),
    ("within: open", "within: opne", "footings.1.within", "did you mean 'open'"),
    ("within: open", "within: deep", "footings.1.within", "lies within itself"),
    ("id: deep", "id: any", "footings.1.id", "a word of the format"),
    ("footing: open", "footing: panel", "steps.1.footing", "there is no footing 'panel'"),
    ("kind: safeguard}", "kind: safeguard, proves: after-restart}", "steps.2.proves", "proves nothing"),
    ("done: 0.9", "done: -0.1", "steps.1.done", "greater than or equal to 0"),
    ("eased_by: save", "eased_by: wipe", "steps.3.hazards.0.eased_by", "only a safeguard eases"),
    (", eased_to: 0.1", "", "steps.3.hazards.0", "go together"),
    ("severity: 3", "severity: 6", "steps.3.hazards.0.severity", "less than or equal to 5"),
    ('given: {"*": 0.5}}, {id: blue', 'given: {dirty: 0.0, "*": 0.5}}, {id: blue', None, None),
    (
        '{id: red, title: Red, given: {"*": 0.5}}, {id: blue, title: Blue, given: {"*": 0.5}}',
        '{id: red, title: Red, given: {"*": 0.0}}, {id: blue, title: Blue}',
        "steps.0.findings",
        "are all 0 for the cause",
    ),
    ("id: red,", "id: fixed,", "steps.0.findings.0.id", "the name of an outcome"),
    ("id: found,", "id: one,", "steps.4.search", "'found' and 'none'"),
    ("count: 8", "count: 1", "steps.4.search.count", "greater than or equal to 2"),
    (
        "{step: look, on: {red:",
        "{step: look, on: {green:",
        "ladder.0.on.green",
        "there is no finding or outcome 'green'",
    ),
    ("{step: find}", "{step: fnid}", "ladder.4.step", "did you mean 'find'"),
    (
        "{step: find}",
        "{step: find, on: {found: [{again: true}]}}",
        "ladder.4.on.found.0",
        "belongs into a could-not rail",
    ),
    (
        "{step: find}",
        "{step: find, on: {found: [{hand_off: crow}]}}",
        "ladder.4.on.found.0.hand_off",
        "did you mean 'crew'",
    ),
    (
        "{step: find}",
        "{step: find, on: {found: [{hand_off: crew}, {step: wipe}]}}",
        "ladder.4.on.found.1",
        "nothing here is ever reached",
    ),
    (
        "{step: save, trial: both}",
        "{step: save, trial: both, on: {could-not: [{step: look}]}}",
        "ladder.2.on",
        "only the last rung of the trial",
    ),
    (
        "trial: both, when",
        "trial: both, on: {could-not: [{step: wipe}]}, when",
        "ladder.3.on.could-not",
        "no fixes and no 'again'",
    ),
    (
        "{step: find}",
        "{step: find, pin: first}\n  - {step: find, pin: last}",
        "ladder.5.pin",
        "pinned first on one rung",
    ),
    ("{step: find}", "{step: find, pin: middle}", "ladder.4.pin", "'middle' is not one of"),
    ("{step: find}", "{steps: find}", "ladder.4.step", "the key 'step' is missing"),
    ("model is GR4 and", "modell is GR4 and", "ladder.3.when", "did you mean 'model'"),
    ("model is GR4 and", "model is GR5 and", "ladder.3.when", "no value of model 'GR5'"),
    ("model is GR4 and", "model below GR4 and", "ladder.3.when", "it is not below anything"),
    ("model is GR4 and firmware below 4.2", "model is GR4 and", "ladder.3.when", "at character 17"),
    ("model is GR4 and firmware below 4.2", "look found green", "ladder.3.when", "no finding of look 'green'"),
    ("model is GR4 and firmware below 4.2", "wipe found red", "ladder.3.when", "there is no check 'wipe'"),
    ("model is GR4 and firmware below 4.2", "firmware below high", "ladder.3.when", None),
    (
        "done: 0.9}",
        'done: 0.9, varies: [{when: "look found red"}]}',
        "steps.1.varies.0.when",
        "by facts of the unit alone",
    ),
    ("done: 0.9}", "done: 0.9, watch: four hours}", "steps.1.watch", "is no length of time: write PT4H"),
    ("done: 0.9}", "done: 0.9, do: [{copy: x}]}", "steps.1.do.0", "a text, or ways"),
    ("done: 0.9}", "done: 0.9, includes: [wipe]}", "steps.1.includes.0", "names itself"),
    (
        "done: 0.9}",
        "done: 0.9, do: [{text: x, picture: ../../etc/passwd.png}]}",
        "steps.1.do.0.picture",
        "is no path of a picture",
    ),
    ("{id: save, title: Save", "{id: wipe, title: Save", "steps.2.id", "is used twice"),
    ("id: gate\n", "id: Gate Arm\n", "id", "is no id"),
    ("format: mild-ladder/playbook/1", "format: mild-ladder/playbook/2", "format", "is not one of"),
    # The words for what moves the causes, for putting back, for searches, lasting repairs and teams.
    (
        "weight: 4}",
        "weight: 4, likelier: [{when: model is GR4}]}",
        "causes.0.likelier.0.times",
        "the key 'times' is missing",
    ),
    ("weight: 4}", "weight: 4, likelier: [{times: 3}]}", "causes.0.likelier.0.when", "the key 'when' is missing"),
    (
        "weight: 4}",
        "weight: 4, likelier: [{when: model is GR4, times: -1}]}",
        "causes.0.likelier.0.times",
        "greater than or equal to 0",
    ),
    (
        "weight: 4}",
        "weight: 4, likelier: [{when: model is GR5, times: 3}]}",
        "causes.0.likelier.0.when",
        "no value of model 'GR5'",
    ),
    (
        "weight: 4}",
        "weight: 4, likelier: [{when: modle is GR4, times: 3}]}",
        "causes.0.likelier.0.when",
        "did you mean 'model'",
    ),
    (
        "weight: 4}",
        "weight: 4, likelier: [{when: look found red, times: 3}]}",
        "causes.0.likelier.0.when",
        "by facts of the unit alone",
    ),
    (
        "weight: 4}",
        "weight: 4, likelier: [{when: earlier cases at least 2 within 9 days, times: 3}]}",
        "causes.0.likelier.0.when",
        "by facts of the unit alone",
    ),
    ("weight: 4}", "weight: 4, likelier: {when: model is GR4, times: 3}}", "causes.0.likelier", None),
    (
        "layer: hardware, weight: 4}",
        "layer: hardware, likelier: [{when: model is GR4, times: 0}]}\n  - {id: something-else, title: Else, layer: outside, weight: 0}",
        "causes",
        "no cause is left",
    ),
    (
        'symptom: {says: "It is up"}',
        'symptom: {says: "It is up", signs: [{kind: code, text: A-31, points_to: {dirt: 3}}]}',
        "symptom.signs.0.points_to.dirt",
        "did you mean 'dirty'",
    ),
    (
        'symptom: {says: "It is up"}',
        'symptom: {says: "It is up", signs: [{kind: code, text: A-31, points_to: {dirty: much}}]}',
        "symptom.signs.0.points_to.dirty",
        None,
    ),
    (
        'symptom: {says: "It is up"}',
        'symptom: {says: "It is up", signs: [{kind: code, text: A-31, points_at: {dirty: 3}}]}',
        "symptom.signs.0.points_at",
        "did you mean 'points_to'",
    ),
    ("chance: 0.5, eased_by", "chance: 0.5, undo: maybe, eased_by", "steps.3.hazards.0.undo", "'maybe' is not one of"),
    ("chance: 0.5, eased_by", "chance: 0.5, undo: {possible: yes}, eased_by", "steps.3.hazards.0.undo", None),
    ("done: 0.9}", "done: 0.9, undo: {after: always, footing: opne}}", "steps.1.undo.footing", "did you mean 'open'"),
    ("done: 0.9}", "done: 0.9, undo: {after: sometimes}}", "steps.1.undo.after", "'sometimes' is not one of"),
    (
        "done: 0.9}",
        "done: 0.9, search: {over: leads, count: 4, how: halves}}",
        "steps.1.search.round",
        "the key 'round' is missing",
    ),
    (
        "kind: safeguard}",
        "kind: safeguard, search: {over: leads, count: 4, how: halves, round: {}}}",
        "steps.2.search",
        "or a fix that tries one after the other",
    ),
    (
        "{step: find}",
        "{step: find, on: {restored: [{step: wipe}]}}",
        "ladder.4.on.restored",
        "only a workaround restores",
    ),
    (
        "{step: look, on: {red: [{step: wipe}]}}",
        "{step: look, on: {restord: [{step: wipe}]}}",
        "ladder.0.on.restord",
        "did you mean 'restored'",
    ),
    ("id: red,", "id: restored,", "steps.0.findings.0.id", "a word of the format"),
    ("{id: crew, title: Crew}", "{id: crew, title: Crew, theirs: 30}", "hand_offs.0.theirs", None),
    ("{id: crew, title: Crew}", "{id: crew, title: Crew, theirs: {hands: 30}}", "hand_offs.0.theirs.hands", None),
    (
        "{id: crew, title: Crew}",
        "{id: crew, title: Crew, tell: [firmwear]}",
        "hand_offs.0.tell",
        "did you mean 'firmware'",
    ),
    ("hand_offs:\n", "restart: {hands_on: 1, do: [{say: Restart it}]}\nhand_offs:\n", "restart.do.0.say", None),
    (
        "hand_offs:\n",
        "restart: {hands_on: 1, do: [{text: Restart it, when: modle is GR4}]}\nhand_offs:\n",
        "restart.do.0.when",
        "did you mean 'model'",
    ),
    (
        "model is GR4 and firmware below 4.2",
        "model is GR4 plus",
        "ladder.3.when",
        "a value of several words stands in quotes",
    ),
    (
        "  - {step: find}",
        "  - {step: find}\n  - {hand_off: crew}",
        "ladder.5.step",
        "what the ladder leaves goes to the default hand-off by itself",
    ),
    ("done: 0.9}", "done: 0.9, inputs: [{id: slower, compute: speed * 0.92}]}", "steps.1.inputs.0.compute", "'speed'"),
    (
        "done: 0.9}",
        "done: 0.9, inputs: [{id: slower, compute: firmware * 0.92}]}",
        "steps.1.inputs.0.compute",
        "'firmware' is a version",
    ),
    (
        "done: 0.9}",
        "done: 0.9, inputs: [{id: slower, compute: 2 * slower}]}",
        "steps.1.inputs.0.compute",
        "computed from itself",
    ),
    (
        "done: 0.9}",
        'done: 0.9, inputs: [{id: slower, compute: "2 *"}]}',
        "steps.1.inputs.0.compute",
        "write a sum of numbers and names",
    ),
    (
        "done: 0.9}",
        "done: 0.9, inputs: [{id: slower, compute: 2 * 3, ask: Which?}]}",
        "steps.1.inputs.0",
        "has an ask, or is computed",
    ),
    ("done: 0.9}", "done: 0.9, inputs: [{id: slower}]}", "steps.1.inputs.0", "has an ask, or is computed"),
    (
        "done: 0.9}",
        "done: 0.9, inputs: [{id: slower, ask: Which?, round: 5}]}",
        "steps.1.inputs.0",
        "only an input that is computed has a round",
    ),
    (
        "done: 0.9}",
        "done: 0.9, inputs: [{id: slower, compute: 2 * 3, round: 0}]}",
        "steps.1.inputs.0.round",
        "greater than 0",
    ),
    (
        "{GR4: 0.6, GR6: 0.4}",
        '{GR4: 0.6, GR6: 0.4}}\n  - {id: under-roof, ask: "Under a roof?", type: yes-no, shares: {maybe: 1}',
        "facts.1.shares.maybe",
        "is neither yes nor no",
    ),
]


@pytest.mark.parametrize(("old", "new", "path", "says"), BROKEN)
def test_a_broken_file_is_told_with_line_path_and_sentence(old, new, path, says):
    assert SOUND.count(old) >= 1
    text = SOUND.replace(old, new, 1)
    if path is None:
        read_playbook(text.encode())
        return
    with pytest.raises(BadInput) as error:
        read_playbook(text.encode(), "gate.yaml")
    assert error.value.path == path
    assert error.value.source == "gate.yaml"
    assert says is None or says in error.value.says, error.value.says
    changed = {
        n for n, (a, b) in enumerate(zip(SOUND.splitlines(), text.splitlines(), strict=False), start=1) if a != b
    }
    # The line is the one that was changed, or the head of the part that it spoiled.
    assert error.value.line is not None
    assert error.value.line <= max(changed)
    assert "\n" not in str(error.value)


def test_the_sound_file_is_sound():
    assert read_playbook(SOUND.encode()).id == "gate"


def deep(levels: int) -> str:
    """A rail upon a rail upon a rail."""
    rail = "{step: find}"
    for _ in range(levels):
        rail = f"{{step: look, on: {{red: [{rail}]}}}}"
    return SOUND.replace("{step: find}", rail)


def test_six_rails_upon_each_other_are_read_and_seven_are_refused():
    assert read_playbook(deep(6).encode()).ladder
    with pytest.raises(BadInput, match="deeper than 6"):
        read_playbook(deep(7).encode())


def test_five_hundred_rungs_are_read():
    text = SOUND.replace("  - {step: find}\n", "  - {step: find}\n" * 500)
    assert len(read_playbook(text.encode()).ladder) == 504


@pytest.mark.parametrize(
    ("raw", "says"),
    [
        (b"x: " + b"y" * 20_000_000, "at most"),
        (b"a: &a [x, x]\nb: &b [*a, *a]\nc: &c [*b, *b]\n", "aliases"),
        (b"\xff\xfe" + SOUND.encode("utf-16-le"), "not UTF-8"),
        (SOUND.encode("latin-1").replace(b"Dirty", b"Schmutz\xfc"), "not UTF-8"),
        (b"{" * 5000, None),
        (b"? [a, b]\n: c\n", "plain word"),
        (b"steps: !!python/name:os.system x\n", None),
        (b"\x00" * 100, None),
    ],
)
def test_what_is_no_document_is_refused_without_eating_memory(raw, says):
    tracemalloc.start()
    with pytest.raises(BadInput) as error:
        read_playbook(raw, "f.yaml")
    _, peak = tracemalloc.get_traced_memory()
    tracemalloc.stop()
    assert says is None or says in str(error.value)
    assert peak < 150_000_000
    assert io.StringIO(str(error.value)).readline() == str(error.value)
