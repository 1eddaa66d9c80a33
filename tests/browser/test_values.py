"""Values by keyboard: what the caller said is confirmed, what cannot be is told and stays to be mended."""

import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import BrowserContext, expect

from tests.browser.conftest import Served, press, served

PLAYBOOK = """\
format: mild-ladder/playbook/1
id: arm-message
title: Arm reports that it is not home
symptom:
  says: "The arm is up"
  signs: [{kind: message, text: "ARM {arm} NOT HOME"}, {kind: message, text: "CODE {code}"}]
causes: [{id: dirty, title: Dirty sensor, layer: hardware, weight: 1}]
steps:
  - id: reset
    title: Reset the arm
    kind: fix
    fixes: {dirty: often}
    inputs: [{id: name, ask: "Name of the lane", pattern: "[A-Z][a-z]+ [0-9]+", form: "a word and a number"}]
    do: [{text: "Run this", copy: "lanectl reset --arm {arm} --code {code} --name '{name}'"}]
ladder: [{step: reset}]
hand_offs: [{id: crew, title: Lane crew}]
"""


@pytest.fixture(scope="module")
def desk(tmp_path_factory) -> Iterator[Served]:
    folder: Path = tmp_path_factory.mktemp("values")
    (folder / "arm.yaml").write_text(PLAYBOOK)
    command = [sys.executable, "-m", "mildladder.cli", "import", "playbook", str(folder / "arm.yaml")]
    subprocess.run([*command, "--publish", "First", "--db", str(folder / "desk.db")], check=True, capture_output=True)
    with served("serve", database=folder / "desk.db") as made:
        yield made


def test_what_was_said_is_confirmed_and_what_cannot_be_a_value_is_mended(context: BrowserContext, desk: Served):
    page = context.new_page()
    person = context.request.post(f"{desk.address}/api/people", data={"name": "R. Tamsin", "role": "lead"}).json()
    context.request.put(f"{desk.address}/api/me", data={"person": person["id"]})
    page.goto(f"{desk.address}/start?playbook=arm-message")
    page.get_by_label("What does the caller say").fill("It says ARM 3 NOT HOME, and code E-7;rm")
    page.keyboard.press("Control+Enter")
    expect(page.get_by_role("heading", name="Is the fault there now?")).to_be_visible()
    press(page, "1")

    arm = page.get_by_label("Arm", exact=True)
    expect(arm).to_be_focused()
    expect(arm).to_have_value("3")
    press(page, "Enter")

    code = page.get_by_label("Code", exact=True)
    expect(code).to_be_focused()
    expect(code).to_have_value("")
    page.keyboard.type("E-7;rm -rf")
    press(page, "Enter")
    expect(page.get_by_text("“E-7;rm -rf” cannot go into a command")).to_be_visible()
    expect(code).to_have_value("E-7;rm -rf")
    code.fill("E-7")
    press(page, "Enter")

    name = page.get_by_label("Name of the lane")
    expect(name).to_be_focused()
    page.keyboard.type("quay")
    press(page, "Enter")
    expect(page.get_by_text("“quay” cannot be right; it looks like this: a word and a number")).to_be_visible()
    name.fill("Quay 3")
    press(page, "Enter")
    expect(page.get_by_text("lanectl reset --arm 3 --code E-7 --name 'Quay 3'")).to_be_visible()
