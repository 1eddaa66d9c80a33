"""Every key of the playbook format is changed through its visible, labelled control, and that key alone is changed."""

import os
import re
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from time import monotonic

import pytest
from PIL import Image
from playwright.sync_api import Browser, Locator, Page, expect

from mildladder.core.draft.shape import ROOT, kind
from mildladder.core.model import Playbook
from mildladder.exchange.pictures import clean_picture, write_archive
from tests.browser.built.documents import key_of, unlike
from tests.browser.conftest import served

HERE = Path(__file__).parent
TABLE = HERE.parents[2] / "docs" / "editing.md"
ROWS = [
    tuple(cell.strip() for cell in line.strip("|\n").split("|"))
    for line in TABLE.read_text().splitlines()
    if line.startswith("| `")
]
KEYS = {key.strip("`"): (place, label) for key, place, label in ROWS}
EDITED = [key for key, (place, _) in KEYS.items() if place != "–"]
# The rung on which what a key belongs to is found, where that is not the one with everything.
RUNGS = {
    "steps[].search": "Seek the lead",
    "steps[].findings": "Read the sensor",
    "steps[].reading": "Read the sensor",
    "ladder[].on.*[].step": "Wipe it",
    "ladder[].on.*[].when": "Wipe it",
    "ladder[].on.*[].note": "Wipe it",
    "ladder[].on.*[].hand_off": "Read the sensor",
    "ladder[].on.*[].playbook": "Read the sensor",
    "ladder[].on.*[].from": "Read the sensor",
    "ladder[].on.*[].again": "Read the sensor",
    "ladder[].on": "Dry it",
    "ladder[].keep": "Read the sensor",
    "ladder[].optional": "Seek the lead",
    "ladder[].step": "Seek the lead",
}
# What is written where adding a word would make it unsound.
TEXTS = {
    "hold": "PT20S",
    "watch": "PT5H",
    "due": "PT9H",
    "read": "2026-04-01",
    "pattern": "G[0-9]",
    "compute": "{Lane number} * 3",
    "when": '"Version on the screen" above 4.1',
    "copy": "another",
    "fixes.*": "30",
}
CHOICES = {
    "steps[].kind": "workaround",
    "steps[].footing": "Hall shut",
    "steps[].undo.footing": "Hall shut",
    "steps[].varies[].footing": "Panel open",
    "steps[].search.how": "one by one",
    "steps[].proves": "after a restart",
    "footings[].within": "none",
    "facts[].type": "a number",
    "steps[].inputs[].type": "a number",
    "steps[].includes[]": "Dry it",
    "steps[].cancels[]": "Keep another copy",
    "steps[].needs[]": "Keep a copy",
}
# Which of several that say something, from the first.
WHICH = {"facts[].type": 2, "symptom.signs[].kind": 1, "steps[].inputs[].type": 3, "facts[].shares.*": 2}
AS_JSON = {"Accept": "application/json"}
PATIENCE_S = 20


def paths(name: str, at: str = "", seen: frozenset[tuple[str, str]] = frozenset()) -> Iterator[str]:
    """Every key of the format below a kind of item, recursions once."""
    for field, found in kind(name).fields.items():
        here = f"{at}.{field}" if at else field
        if field in ("pictures", "conflicts", "origin") or (found.kind and (name, field) in seen):
            continue
        more = seen | {(name, field)}
        if found.sort == "map":
            yield f"{here}.*"
        elif found.sort == "rails":
            yield from paths(found.kind, f"{here}.*[]", more)
        elif found.kind == "Text":
            yield f"{here}[]"
        elif found.kind == "Way":
            yield from paths("Instruction", f"{here}[][]", more | {("Way", "do")})
        elif found.sort == "of":
            inner = kind(found.kind).fields["of"]
            if inner.sort == "map" or inner.kind == "Text":
                yield f"{here}.*" if inner.sort == "map" else f"{here}[]"
            else:
                yield from paths(inner.kind, f"{here}[]", more)
        elif found.kind:
            yield from paths(found.kind, f"{here}[]" if found.sort == "items" else here, more)
        else:
            yield here


def test_the_table_has_every_key_of_the_format():
    # An entry of the main line is a rung; what else may end a rail stands on rails alone.
    on_rails_alone = {"ladder[].again", "ladder[].hand_off", "ladder[].playbook", "ladder[].from"}
    assert set(KEYS) == set(paths(ROOT)) - on_rails_alone
    assert len(EDITED) > 200


@pytest.fixture(scope="module")
def picture(tmp_path_factory) -> Path:
    """Another picture than the one that is there."""
    path = tmp_path_factory.mktemp("pictures") / "lamp.png"
    Image.new("RGB", (12, 12), (20, 120, 40)).save(path)
    return path


@pytest.fixture(scope="module")
def whole(browser: Browser, tmp_path_factory, picture) -> Iterator["Whole"]:
    """A page of a desk that has a playbook in which every key is said."""
    folder = tmp_path_factory.mktemp("whole")
    Image.new("RGB", (8, 8), (200, 120, 40)).save(folder / "there.png")
    there = clean_picture((folder / "there.png").read_bytes(), "there")
    path = f"pictures/{there.digest[:12]}.png"
    text = (HERE / "whole.yaml").read_text().replace("pictures/PICTURE.png", path)
    archive = write_archive("whole.yaml", text.encode(), {path: there.data})
    with served("serve", database=folder / "desk.db") as desk:
        page = browser.new_page(viewport={"width": 1280, "height": 900}, locale="en-GB")
        page.goto(desk.address)
        page.get_by_label("Your name").fill("N. Oake")
        page.keyboard.press("Enter")
        expect(page.get_by_role("banner").get_by_role("button", name="N. Oake, lead")).to_be_visible()
        answer = page.request.post(f"{desk.address}/api/playbooks/file", data=archive)
        assert answer.ok, answer.text()
        other = page.request.post(f"{desk.address}/api/playbooks", data={"title": "Another symptom"})
        assert other.ok, other.text()
        page.goto(f"{desk.address}/playbooks/whole/symptom")
        yield Whole(page, archive, told(page))
        page.close()


@dataclass
class Whole:
    """The page, the archive that it began with, and what that says."""

    page: Page
    archive: bytes
    said: dict

    def anew(self) -> Page:
        """The page with the playbook as it was at first, whatever became of it."""
        address = self.page.url.split("/playbooks")[0]
        if self.page.request.get(f"{address}/api/playbooks/whole/file?of=draft", headers=AS_JSON).json() != self.said:
            answer = self.page.request.post(f"{address}/api/playbooks/file?steps=file", data=self.archive)
            assert answer.ok, answer.text()
            self.page.reload()
        return self.page


def test_every_key_stands_in_the_file_that_is_edited(whole: Whole):
    # What is ticked on comes in by the test.
    ticked = {"ladder[].on.*[].again", "ladder[].trial"}
    assert set(EDITED) - ticked <= leaves(whole.said)


def leaves(data: object, place: tuple[str | int, ...] = ()) -> set[str]:
    """The key of everything that a document says."""
    if isinstance(data, dict):
        return {key for name, one in data.items() for key in leaves(one, (*place, name))}
    if isinstance(data, list):
        return {key for number, one in enumerate(data) for key in leaves(one, (*place, number))}
    return {key_of(place)}


def told(page: Page) -> dict:
    """The draft's file."""
    address = page.url.split("/playbooks")[0]
    answer = page.request.get(f"{address}/api/playbooks/whole/file?of=draft", headers=AS_JSON)
    assert answer.ok, answer.text()
    return answer.json()


# With each change one key in twelve; all of them are the long form: `BUILT=all pytest tests/browser/built`.
TRIED = EDITED if os.environ.get("BUILT") == "all" else EDITED[::12]


@pytest.mark.parametrize("key", TRIED)
def test_a_key_is_changed_through_its_control_and_that_key_alone(whole: Whole, picture, key):
    page = whole.anew()
    place, label = KEYS[key]
    scope = go_to(page, key, place)
    change(page, scope, key, label, picture)
    after = changed_from(page, whole.said)
    if key == "ladder[].on.*[].again":
        assert {(at[0], at[2]) for at, _ in unlike(whole.said, after)} == {("ladder", "on")}
        assert key in leaves(after)
    else:
        assert {key_of(at) for at, _ in unlike(whole.said, after)} == {key}
    Playbook.model_validate(after)
    undo = page.get_by_role("button", name="Undo", exact=True)
    undo.click()
    if key.startswith("facts[]") and key.endswith(".*"):
        undo.click()  # two shares, for they make up one whole
    limit = monotonic() + PATIENCE_S
    while not is_as(page, whole.said):
        assert monotonic() < limit, "it does not go back"


def go_to(page: Page, key: str, place: str) -> Locator:
    """The part of the page in which a key's control stands."""
    tab, *parts = place.split(" › ")
    link = page.get_by_role("navigation", name="Of this symptom").get_by_role("link", name=tab)
    if link.get_attribute("aria-current") != "page":
        link.click()
    scope = page.locator("main, #root").last
    if tab == "Ladder":
        title = next((rung for start, rung in RUNGS.items() if key.startswith(start)), "Do everything")
        page.get_by_role("button", name=title, exact=True).first.click()
        scope = page.get_by_role("complementary", name="The chosen rung")
        expect(scope.get_by_role("heading", name=title, level=2)).to_be_visible()
    while (folded := scope.locator("details:not([open]) > summary")).count():
        folded.first.click()
    for part in parts:
        found = scope.get_by_role("region", name=part, exact=True).or_(
            scope.get_by_role("group", name=part, exact=True)
        )
        expect(found.first).to_be_visible()
        scope = found.last if part == "entering" or part == "leaving" else found.first
    return scope


def change(page: Page, scope: Locator, key: str, label: str, picture: Path) -> None:
    """Change what a key says, through the control of that name."""
    if key == "ladder[].on.*[].again":
        scope.get_by_label("after it finds, or ends in").select_option(label="Could not be done")
        scope.get_by_label("comes").select_option(label="the step once more")
        scope.get_by_role("button", name="Add to the rail").click()
        return
    name = re.compile("^" + re.escape(label).replace("…", ".+") + ("" if "picture" in label else "$"))
    found = scope.get_by_label(name)
    expect(found.first).to_be_visible()
    controls = [one for one in found.all() if one.evaluate("one => one.value !== ''")] or found.all()
    control = controls[-1 if ".ways[][]" in key else WHICH.get(key, 0)]
    tag, sort = control.evaluate("one => [one.tagName, one.type]")
    if sort == "file":
        control.set_input_files(picture)
    elif sort == "checkbox":
        control.click()
    elif tag == "SELECT":
        control.select_option(**another(control, key))
    else:
        write(control, key)
        if key.startswith("facts[]") and key.endswith(".*"):
            write(controls[WHICH.get(key, 0) + 1], key, "45" if key.startswith("facts[].choices") else "35")
    page.keyboard.press("Tab")


def another(control: Locator, key: str) -> dict[str, str]:
    """Another choice than the one that stands there."""
    if key in CHOICES:
        return {"label": CHOICES[key]}
    options = control.evaluate("one => [...one.options].map(option => option.value)")
    now = control.input_value()
    return {"value": next(value for value in options if value not in ("", now, "figure"))}


def write(control: Locator, key: str, text: str | None = None) -> None:
    """Another text, or number, than the one that stands there."""
    was = control.input_value()
    last = key.rsplit(".", 1)[-1].removesuffix("[]")
    if text is None:
        text = (
            "55"
            if last == "*" and key.startswith("facts[].choices")
            else "65"
            if key.startswith("facts[].sh")
            else None
        )
    if text is None:
        text = TEXTS.get(last) or (f"{float(was) + 1:g}" if re.fullmatch(r"[\d.]+", was) else f"{was} anew")
    control.fill(text)


def changed_from(page: Page, before: dict) -> dict:
    """The file once it says something else, and everything is saved."""
    limit = monotonic() + PATIENCE_S
    while is_as(page, before):
        assert monotonic() < limit, "nothing is changed"
    expect(page.get_by_role("status").filter(has_text=re.compile("^saved "))).to_be_visible()
    return told(page)


def is_as(page: Page, said: dict) -> bool:
    """Whether the file says that; a draft that is half changed has none."""
    address = page.url.split("/playbooks")[0]
    answer = page.request.get(f"{address}/api/playbooks/whole/file?of=draft", headers=AS_JSON)
    return answer.ok and answer.json() == said
