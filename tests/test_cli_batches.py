"""Several playbook files at once, as a shell brings them in: told of all that is wrong, and one text stays one step."""

import json
from functools import partial

import pytest

from mildladder.exchange.playbook_file import write_playbook
from tests.samples import GATE, gate, gate_with_step


@pytest.fixture
def shell(shell):
    """Runs a command in an empty folder with its own database."""
    return partial(shell, db=True)


@pytest.fixture
def write(tmp_path):
    """Writes a playbook file and gives the line on which a text stands in it."""

    def file(name: str, playbook, line_with: str = "title:") -> int:
        raw = write_playbook(playbook)
        (tmp_path / name).write_bytes(raw)
        return next(n for n, line in enumerate(raw.decode().splitlines(), start=1) if line_with in line)

    return file


def called(playbook: str, **step):
    """The sample under another id, with another text of a step."""
    return gate_with_step("clear-hold", **step).model_copy(update={"id": playbook})


def exported(shell, playbook: str) -> dict:
    return json.loads(shell("export", "playbook", playbook, "--draft", "--json").stdout)


def test_what_files_say_differently_is_told_at_once_by_review_and_import_alike(shell, write, tmp_path):
    write("gate.yaml", gate())
    facts = [{"id": "model", "ask": "Which model?", "type": "text"}]
    fact_line = write("fact.yaml", gate(id="fact", facts=facts), "type: text")
    step_line = write("step.yaml", called("step", title="Another"), "id: clear-hold")
    files = ("gate.yaml", "fact.yaml", "step.yaml")
    by_import, by_review = shell("import", "playbook", *files), shell("review", *files, db=False)
    assert by_import.stderr == by_review.stderr
    first, second = by_review.stderr.splitlines()
    assert f"fact.yaml:{fact_line}: facts.0.type: 'model' is a text here and a choice in gate.yaml" in first
    assert f"step.yaml:{step_line}: steps.1: 'clear-hold' has another text in gate.yaml (title)" in second
    assert (by_import.returncode, by_review.returncode, by_review.stdout) == (2, 2, "")
    assert not (tmp_path / "desk.db").exists()


def test_files_that_cannot_be_read_are_all_told(shell, tmp_path):
    raw = write_playbook(gate()).decode()
    (tmp_path / "a.yaml").write_text(raw.replace("kind: fix", "kind: cure", 1))
    (tmp_path / "b.yaml").write_text(raw.replace("weight: 4", "weight: many", 1))
    for command in (("import", "playbook"), ("review",)):
        done = shell(*command, "a.yaml", "b.yaml", db=command[0] == "import")
        assert [line.split(":")[1].strip() for line in done.stderr.splitlines()] == ["a.yaml", "b.yaml"]


def test_facts_that_the_desk_knows_otherwise_are_told_with_file_and_line(shell, write):
    write("gate.yaml", gate())
    shell("import", "playbook", "gate.yaml")
    line = write("text.yaml", gate(id="text", facts=[{"id": "model", "ask": "Which?", "type": "text"}]), "type: text")
    write("too.yaml", gate(id="too", facts=[{"id": "model", "ask": "Which one?", "type": "text"}]))
    done = shell("import", "playbook", "text.yaml", "too.yaml")
    assert done.returncode == 2
    first, second = done.stderr.splitlines()
    assert f"text.yaml:{line}: facts.0.type: 'model' is a choice on this desk, not a text" in first
    assert "too.yaml:" in second
    assert "no playbook 'text'" in shell("export", "playbook", "text", "--draft").stderr


def test_the_same_text_in_two_files_becomes_one_copy(shell, write):
    write("gate.yaml", gate())
    shell("import", "playbook", "gate.yaml")
    write("a.yaml", called("a", title="Another"))
    write("b.yaml", called("b", title="Another"))
    write("c.yaml", called("c", title="A third"))
    done = shell("import", "playbook", "a.yaml", "b.yaml", "c.yaml", "--steps", "copy", "--json")
    copied = [one["copied"] for one in json.loads(done.stdout)]
    assert copied == [{"clear-hold": "clear-hold-2"}, {"clear-hold": "clear-hold-2"}, {"clear-hold": "clear-hold-3"}]
    assert exported(shell, "b")["steps"][1]["title"] == "Another"
    assert exported(shell, "gate-arm-up")["steps"][1]["title"] == GATE["steps"][1]["title"]


def test_a_copy_that_names_another_copy_is_shared_only_where_that_one_is(shell, write):
    write("gate.yaml", gate())
    shell("import", "playbook", "gate.yaml")

    def naming(playbook: str, title: str):
        """clear-hold needs the look, whose text is another one too."""
        changes = {"clear-hold": {"title": "Another", "needs": ["sensor-look"]}, "sensor-look": {"title": title}}
        return gate(id=playbook, steps=[{**step, **changes.get(step["id"], {})} for step in GATE["steps"]])

    write("a.yaml", naming("a", "Look twice"))
    write("b.yaml", naming("b", "Look thrice"))
    done = json.loads(shell("import", "playbook", "a.yaml", "b.yaml", "--steps", "copy", "--json").stdout)
    assert done[0]["copied"] == {"sensor-look": "sensor-look-2", "clear-hold": "clear-hold-2"}
    assert done[1]["copied"] == {"sensor-look": "sensor-look-3", "clear-hold": "clear-hold-3"}
    for name in ("a", "b"):
        steps = {step["id"]: step for step in exported(shell, name)["steps"]}
        copy = next(step for step in steps.values() if step["id"].startswith("clear-hold"))
        assert steps[copy["needs"][0]]["title"] == {"a": "Look twice", "b": "Look thrice"}[name]


def test_the_library_holds_within_a_batch_too(shell, write):
    write("a.yaml", called("a", title="First"))
    write("b.yaml", called("b", title="Second"))
    preview = json.loads(
        shell("import", "playbook", "a.yaml", "b.yaml", "--steps", "library", "--preview", "--json").stdout
    )
    assert [[clash["keys"] for clash in one["clashes"]] for one in preview] == [[], [["title"]]]
    assert shell("import", "playbook", "a.yaml", "b.yaml", "--step", "clear-hold=library").returncode == 0
    assert [exported(shell, name)["steps"][1]["title"] for name in ("a", "b")] == ["First", "First"]


def test_clashes_of_every_file_are_told_and_nothing_is_kept(shell, write):
    write("gate.yaml", gate())
    shell("import", "playbook", "gate.yaml")
    write("a.yaml", called("a", title="Another"))
    write("b.yaml", called("b", title="Another"))
    done = shell("import", "playbook", "a.yaml", "b.yaml")
    assert [line.count("clear-hold (title)") for line in done.stderr.splitlines()] == [1, 1]
    assert "no playbook 'a'" in shell("export", "playbook", "a", "--draft").stderr
    unknown = shell("import", "playbook", "a.yaml", "--step", "clear-hold=copy", "--step", "wave-through=copy")
    assert "'wave-through' clashes with nothing; the clashes are: clear-hold" in unknown.stderr


def test_what_is_named_and_nobody_has_is_told(shell, write):
    symptom = {**GATE["symptom"], "see_also": [{"sign": "lamp is dark", "playbook": "no-power"}]}
    ladder = [dict(rung) for rung in GATE["ladder"]]
    ladder[0]["on"] = {**ladder[0].get("on", {}), "could-not": [{"playbook": "bent-arm"}]}
    write("gate.yaml", gate(symptom=symptom, ladder=ladder))
    write("power.yaml", gate(id="no-power"))
    assert "bent-arm" in shell("import", "playbook", "gate.yaml", "power.yaml", "--preview").stdout
    assert "no-power, which nobody has" in shell("import", "playbook", "gate.yaml", "--preview").stdout
    said = shell("import", "playbook", "gate.yaml", "power.yaml").stdout
    assert "ladder.0.on.could-not.0 names the playbook bent-arm, which nobody has" in said
    assert "no-power, which" not in said


def test_a_group_that_the_mildest_first_cannot_hold_is_told_with_forecast_and_curve(shell, write):
    steps = [dict(step) for step in GATE["steps"]]
    hazard = {"kind": "data", "severity": 3, "chance": 0.3}
    steps[1] |= {"hazards": [hazard], "undo": {"possible": "no", "how": "Call the maker"}}
    ladder = [{"step": name} for name in ("sensor-look", "save-counts")]
    ladder += [{"step": "clear-hold", "keep": "k"}, {"step": "wave-through", "keep": "k"}, {"step": "reload-program"}]
    write("kept.yaml", gate(steps=steps, ladder=ladder, policy={"mode": "mildest"}))
    says = "no order keeps every rule"
    assert says in json.loads(shell("forecast", "kept.yaml", "--json", db=False).stdout)["no_order"]
    assert f"As the playbook orders (mildest), {says}" in shell("forecast", "kept.yaml", db=False).stdout
    made = json.loads(shell("curve", "kept.yaml", "--json", db=False).stdout)
    assert made["mildest"] is None
    assert says in made["no_mildest"]
    assert f"With the mildest first, {says}" in shell("curve", "kept.yaml", db=False).stdout
    write("gate.yaml", gate())
    assert json.loads(shell("forecast", "gate.yaml", "--json", db=False).stdout)["no_order"] is None
    assert json.loads(shell("curve", "gate.yaml", "--json", db=False).stdout)["no_mildest"] is None
