"""Playbook files: what is written is read back, and what is wrong is told with line, path and a sentence."""

import json
import random
from pathlib import Path

import pytest

from mildladder.core.errors import BadInput
from mildladder.demo.desk import playbooks
from mildladder.exchange.located import read_located, written
from mildladder.exchange.playbook_file import playbook_data, playbook_schema, read_playbook, write_playbook
from tests.core.random_ladders import random_playbook
from tests.samples import GATE, gate

MALFORMED = Path(__file__).parent / "malformed"


def yaml_with(old: str, new: str) -> bytes:
    text = write_playbook(gate()).decode()
    assert old in text
    return text.replace(old, new, 1).encode()


@pytest.mark.parametrize("playbook", [*playbooks(), gate(), *map(random_playbook, range(30))], ids=lambda p: p.id)
def test_writing_and_reading_give_the_same_document(playbook):
    again = read_playbook(write_playbook(playbook))
    assert again == playbook
    assert write_playbook(again) == write_playbook(playbook)


def test_json_is_read_as_well():
    assert read_playbook(json.dumps(GATE).encode()) == gate()


def test_only_what_was_written_is_written_back():
    assert playbook_data(read_playbook(json.dumps(GATE).encode())) == json.loads(json.dumps(GATE))


def test_yes_and_no_are_words():
    guard = read_playbook(write_playbook(gate())).step("reload-program").guard[0]
    assert guard.must == "yes"


@pytest.mark.parametrize(
    ("old", "new", "line", "path", "says"),
    [
        ("kind: fix", "kind: cure", 39, "steps.1.kind", "not one of"),
        ("    title: Clear the hold-open setting\n", "", 37, "steps.1.title", "missing"),
        ("bad-setting: nearly-always", "bad-seting: 0.9", 44, "steps.1.fixes.bad-seting", "did you mean 'bad-setting'"),
        ("bad-setting: nearly-always", "bad-setting: 1.5", 44, "steps.1.fixes.bad-setting", "from 0 to 1"),
        ("GR4: 0.6", "GR4: 0.7", 13, "facts.0.choices", "sum to 1.1"),
        ("when: model is GR4", "when: modell is GR4", 94, "ladder.3.when", "did you mean 'model'"),
        ("when: model is GR4", "when: model is GR9", 94, "ladder.3.when", "no value of model 'GR9'"),
        ("when: model is GR4", "when: model below 4", 94, "ladder.3.when", "it is not below anything"),
        ("step: save-counts", "step: save-count", 92, "ladder.2.step", "did you mean 'save-counts'"),
        ("eased_by: save-counts", "eased_by: clear-hold", None, "steps.3.hazards.0.eased_by", "only a safeguard"),
        ("title: Gate arm stays raised", "title: Gate\ntitel: Gate", None, "titel", "did you mean 'title'"),
        ("id: save-counts", "id: could-not", None, "steps.2.id", "name of an outcome"),
        ("id: save-counts", "id: clear-hold", None, "steps.2.id", "used twice"),
        ("weight: 4", "weight: four", None, "causes.0.weight", "valid number"),
        ("wait: 8", "wait: -8", None, "steps.3.effort.wait", "greater than or equal to 0"),
    ],
)
def test_an_error_has_its_line_path_and_sentence(old, new, line, path, says):
    with pytest.raises(BadInput, match=says) as error:
        read_playbook(yaml_with(old, new), "gate.yaml")
    assert error.value.path == path
    assert error.value.source == "gate.yaml"
    assert error.value.line is not None
    if line is not None:
        text = yaml_with(old, new).decode().splitlines()[error.value.line - 1]
        assert new.split(":")[0].strip() in text or "missing" in says or path.endswith("choices")


@pytest.mark.parametrize(
    ("raw", "says"),
    [
        (b"", "empty"),
        (b"\xff\xfe\x00bad", "not UTF-8"),
        (b"- a\n- b\n", "mapping"),
        (b"a: [1, 2\nb: 3", "not YAML"),
        (b"a: &x [1]\nb: *x\n", "aliases"),
        (b"a: 1\na: 2\n", "twice"),
        (b"a: !thing x\n", "tag"),
        (b"[" * 3000, "not YAML|nests"),
        (b"{" + b'"a":{' * 100 + b"}" * 101, "nests"),
        (b"x: " + b"9" * 5_000_000, "at most"),
        (b"just text", "mapping"),
    ],
)
def test_what_is_no_document_is_refused(raw, says):
    with pytest.raises(BadInput, match=says):
        read_playbook(raw, "f.yaml")


def test_the_schema_is_complete_and_speaks_of_every_key():
    schema = playbook_schema()
    assert schema["$schema"].endswith("2020-12/schema")
    assert {"symptom", "causes", "steps", "ladder", "policy"} <= set(schema["properties"])
    assert schema["additionalProperties"] is False
    assert "propertyNames" in schema["$defs"]["Step"]["properties"]["fixes"]


# What some reader of YAML takes for something else than text, or for the end of it.
_ODD = (
    "yes",
    "no",
    "on",
    "off",
    "~",
    "null",
    "true",
    "0o17",
    "0x1f",
    "1e3",
    "1.5",
    "1_000",
    "012",
    "0b1",
    "1:30",
    "- a",
    "a: b",
    "# c",
    "'",
    '"',
    "|",
    ">",
    "&a",
    "*a",
    "!x",
    "%",
    "@",
    "`",
    "{a",
    "[b",
    "é",
    "日本",
    "😀",
    "a\nb",
    "a\n\nb\n",
    " lead",
    "trail ",
    "a\tb",
    "\x85",
    "\u2028",
    "=",
    "<<",
    ".inf",
    ".nan",
    "-.5",
    "+1",
    "",
    "?",
    "? a",
    ":",
    "-",
    "---",
    "...",
    "2020-01-01",
    "0.",
    "1.e5",
    "a #b",
    "a:",
    "\u200b",
    "\ufeff",
    "long words " * 20,
)


@pytest.mark.parametrize("seed", range(20))
def test_any_text_and_number_comes_back_as_it_was_written(seed):
    rng = random.Random(seed)
    for _ in range(20):
        texts = [rng.choice(_ODD) + rng.choice(("", *_ODD)) for _ in range(8)]
        data = {"texts": texts, f"k {rng.choice(_ODD).strip()}x": {"f": rng.choice([1.5, 1e-7, 1e22, 3, True, None])}}
        assert read_located(written(data)).data == data
