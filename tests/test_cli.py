"""The commands as a shell runs them: JSON alone on stdout, one line on stderr, exit code 2, nothing half written."""

import json
import subprocess
import sys
from pathlib import Path

import pytest
from PIL import Image

from mildladder.exchange.case_lines import write_cases
from mildladder.exchange.playbook_file import write_playbook
from tests.samples import GATE, case, gate, gate_with_step


@pytest.fixture(autouse=True)
def file(tmp_path):
    """A playbook's file in the folder that commands run in."""
    (tmp_path / "gate.yaml").write_bytes(write_playbook(gate()))


def refused(done: subprocess.CompletedProcess[str], *says: str) -> None:
    assert done.returncode == 2
    assert done.stdout == ""
    assert done.stderr.count("\n") == 1
    for part in says:
        assert part in done.stderr


def test_a_command_is_a_process_that_ends_with_its_code(tmp_path):
    def run(*args: str) -> subprocess.CompletedProcess[str]:
        command = [sys.executable, "-m", "mildladder.cli", *args]
        return subprocess.run(command, cwd=tmp_path, capture_output=True, text=True, timeout=60, check=False)

    assert run("import", "playbook", "gate.yaml", "--db", "desk.db").returncode == 0
    assert json.loads(run("export", "playbook", "gate-arm-up", "--draft", "--json", "--db", "desk.db").stdout) == GATE
    refused(run("export", "playbook", "none", "--db", "desk.db"), "there is no playbook")


def test_forecast_prints_the_keys_that_a_script_may_rely_on(shell):
    data = json.loads(shell("forecast", "gate.yaml", "--json").stdout)
    keys = {"effort", "harm", "elapsed", "resolved", "worked_around", "handed_off", "sent_on", "rungs", "by_cause"}
    assert keys <= set(data)
    assert {"step", "reach", "resolved", "effort", "harm"} <= set(data["rungs"][0])
    assert shell("forecast", "gate.yaml").stdout.startswith("Gate arm stays raised: ")


def test_schema_describes_what_is_read(shell):
    schema = json.loads(shell("schema", "playbook").stdout)
    assert "ladder" in schema["required"]
    assert json.loads(shell("schema", "api").stdout)["openapi"] == "3.1.0"


def test_a_playbook_goes_in_and_comes_out_the_same(shell, tmp_path):
    done = shell("import", "playbook", "gate.yaml", "--publish", "First", "--json", db=True)
    assert json.loads(done.stdout)["edition"] == 1
    out = shell("export", "playbook", "gate-arm-up", db=True).stdout
    assert out.encode() == (tmp_path / "gate.yaml").read_bytes()
    assert json.loads(shell("export", "playbook", "gate-arm-up", "--json", db=True).stdout) == json.loads(
        json.dumps(GATE)
    )


def test_a_draft_is_exported_only_when_that_is_said(shell):
    shell("import", "playbook", "gate.yaml", db=True)
    refused(shell("export", "playbook", "gate-arm-up", db=True), "no edition yet")
    assert shell("export", "playbook", "gate-arm-up", "--draft", db=True).returncode == 0


def test_cases_go_in_all_or_none(shell, tmp_path):
    lines = list(write_cases([case(1, ("clear-hold", "fixed")), case(2)]))
    (tmp_path / "cases.jsonl").write_bytes(b"".join([*lines, b'{"case": "C-3"}\n']))
    refused(shell("import", "cases", "cases.jsonl", db=True), "cases.jsonl:3", "missing")
    (tmp_path / "cases.jsonl").write_bytes(b"".join(lines))
    counts = json.loads(shell("import", "cases", "cases.jsonl", "--json", db=True).stdout)
    assert counts == {"read": 2, "new": 2, "updated": 0, "unchanged": 0, "refused": 0, "reasons": []}
    assert json.loads(shell("import", "cases", "cases.jsonl", "--json", db=True).stdout)["unchanged"] == 2


def test_cases_that_can_be_read_go_in_when_the_others_are_left_out(shell, tmp_path):
    lines = list(write_cases([case(1, ("clear-hold", "fixed"))]))
    (tmp_path / "office.jsonl").write_bytes(b"".join([b'{"case": "C-3"}\n', *lines]))
    done = shell("import", "cases", "office.jsonl", "--leave-out", db=True)
    assert done.stdout.splitlines() == [
        "1 cases read: 1 new, 0 updated, 0 known already",
        "left out: line 1: opened: the key is missing",
    ]


def test_a_malformed_playbook_is_told_with_file_line_and_path(shell, tmp_path):
    raw = write_playbook(gate()).decode().replace("kind: fix", "kind: cure", 1)
    (tmp_path / "bad.yaml").write_text(raw)
    done = shell("import", "playbook", "bad.yaml", db=True)
    refused(done, "bad.yaml:", "steps.1.kind", "'cure' is not one of")
    assert not (tmp_path / "desk.db").exists()


def test_a_clash_with_the_library_lists_the_steps(shell, tmp_path):
    shell("import", "playbook", "gate.yaml", db=True)
    (tmp_path / "other.yaml").write_bytes(write_playbook(gate_with_step("clear-hold", title="Another")))
    refused(shell("import", "playbook", "other.yaml", db=True), "clear-hold", "--steps")
    assert shell("import", "playbook", "other.yaml", "--steps", "file", db=True).returncode == 0


def test_two_files_of_one_batch_come_in_together_or_not_at_all(shell, tmp_path):
    other = gate_with_step("clear-hold", title="Another").model_copy(update={"id": "other"})
    (tmp_path / "other.yaml").write_bytes(write_playbook(other))
    refused(shell("import", "playbook", "gate.yaml", "other.yaml", db=True), "other.yaml", "steps.1", "gate.yaml")
    assert not (tmp_path / "desk.db").exists()
    (tmp_path / "other.yaml").write_bytes(write_playbook(gate(id="other")))
    done = json.loads(shell("import", "playbook", "gate.yaml", "other.yaml", "--json", db=True).stdout)
    assert [one["playbook"] for one in done] == ["gate-arm-up", "other"]
    refused(shell("import", "playbook", "gate.yaml", "gate.yaml", db=True), "stands in gate.yaml too")


def test_a_preview_changes_nothing_and_each_clash_may_be_settled_by_itself(shell, tmp_path):
    shell("import", "playbook", "gate.yaml", db=True)
    (tmp_path / "other.yaml").write_bytes(write_playbook(gate_with_step("clear-hold", title="Another")))
    preview = json.loads(shell("import", "playbook", "other.yaml", "--preview", "--json", db=True).stdout)
    assert [(clash["step"], clash["keys"]) for clash in preview["clashes"]] == [("clear-hold", ["title"])]
    assert "differs in title" in shell("import", "playbook", "other.yaml", "--preview", db=True).stdout
    refused(shell("import", "playbook", "other.yaml", "--step", "clear-hold=never", db=True), "ID=copy")
    done = shell("import", "playbook", "other.yaml", "--step", "clear-hold=copy", db=True)
    assert "clear-hold became clear-hold-2" in done.stdout


def test_a_playbook_with_pictures_goes_out_and_in_as_one_archive(shell, tmp_path):
    Image.new("RGB", (8, 8), "red").save(tmp_path / "lamp.png")
    do = [{"text": "Look at the lamp", "picture": "lamp.png"}]
    (tmp_path / "gate.yaml").write_bytes(write_playbook(gate_with_step("clear-hold", do=do)))
    assert shell("import", "playbook", "gate.yaml", "--publish", "First", db=True).returncode == 0
    assert shell("export", "playbook", "gate-arm-up", "--archive", "gate.zip", db=True).returncode == 0
    again = shell("import", "playbook", "gate.zip", "--json", "--db", "second.db")
    assert json.loads(again.stdout)["is_new"]
    (tmp_path / "lamp.png").unlink()
    refused(shell("import", "playbook", "gate.yaml", "--db", "third.db"), "lamp.png", "beside the file")


@pytest.mark.parametrize(
    ("args", "says"),
    [
        (["forecast", "missing.yaml"], "missing.yaml"),
        (["forecast"], "FILE"),
        (["nonsense"], "nonsense"),
        (["import", "playbook", "gate.yaml", "--db", "gate.yaml"], "cannot be opened"),
        (["serve", "--host", "0.0.0.0"], "not a loopback address"),
        (["serve", "--port", "99999"], "--port"),
        (["export", "playbook", "none", "--db", "x.db"], "there is no playbook"),
    ],
)
def test_what_is_wrong_is_told_in_one_line(shell, args, says):
    refused(shell(*args), says)


def test_a_second_server_on_a_port_is_told_in_one_line(shell):
    from mildladder.api.server import listen

    with listen("127.0.0.1", 0) as bound:
        refused(shell("serve", "--port", str(bound.getsockname()[1]), db=True), "in use already")


def test_nothing_else_is_written_into_the_working_folder(shell, tmp_path):
    shell("forecast", "gate.yaml", "--json")
    assert [path.name for path in Path(tmp_path).iterdir()] == ["gate.yaml"]


def test_order_and_curve_print_what_scripts_rely_on(shell):
    best = json.loads(shell("order", "gate.yaml", "--json").stdout)
    assert sorted(best["order"]) == sorted(rung["step"] for rung in GATE["ladder"])
    assert {"effort", "harm", "objective", "exact", "gap", "left_out", "hand_off_after", "why"} <= best.keys()
    assert [one["step"] for one in best["why"]] == best["order"]
    quick = json.loads(shell("order", "gate.yaml", "--mode", "balanced", "--rate", "0", "--json").stdout)
    assert quick["effort"] <= best["effort"] + 1e-9
    made = json.loads(shell("curve", "gate.yaml", "--json").stdout)
    assert {"order", "effort", "harm", "rate_low", "rate_high"} <= made["points"][0].keys()
    assert made["draft"].keys() >= {"effort", "harm"}
    assert "effort minutes" in shell("curve", "gate.yaml").stdout
    assert "no order is better" in shell("order", "gate.yaml").stdout


def test_rules_that_lead_in_a_circle_are_named(shell, tmp_path):
    steps = [{**step, "needs": ["reload-program"]} if step["id"] == "save-counts" else step for step in GATE["steps"]]
    (tmp_path / "circle.yaml").write_bytes(write_playbook(gate(steps=steps)))
    refused(shell("order", "circle.yaml"), "which it protects", "which needs it")
    refused(shell("curve", "circle.yaml"), "which it protects", "which needs it")


def test_review_ends_with_one_where_a_blocker_stands(shell, tmp_path):
    fine = shell("review", "gate.yaml", "--json")
    assert fine.returncode == 0
    assert {"level", "code", "where", "says"} <= json.loads(fine.stdout)["findings"][0].keys()
    wrong = gate(ladder=[{"step": "reload-program"}, {"step": "save-counts"}])
    (tmp_path / "wrong.yaml").write_bytes(write_playbook(wrong))
    stopped = shell("review", "wrong.yaml", "--json")
    assert stopped.returncode == 1
    assert json.loads(stopped.stdout)["findings"][0]["code"] == "safeguard-below"
    assert "blocker safeguard-below" in shell("review", "wrong.yaml").stdout
    refused_by = shell("import", "playbook", "wrong.yaml", "--publish", "Out", db=True)
    refused(refused_by, "cannot be published", "must stand above")


def test_diff_says_what_changed(shell, tmp_path):
    (tmp_path / "other.yaml").write_bytes(write_playbook(gate(ladder=GATE["ladder"][::-1])))
    made = json.loads(shell("diff", "gate.yaml", "other.yaml", "--json").stdout)
    assert {one["group"] for one in made["sentences"]} == {"order"}
    assert made["before"]["effort"] != made["after"]["effort"]
    assert "moved from" in shell("diff", "gate.yaml", "other.yaml").stdout
    assert shell("diff", "gate.yaml", "gate.yaml").stdout == "They are equal.\n"
