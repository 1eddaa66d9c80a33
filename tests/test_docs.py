"""The numbers that the documents say are those that the program works out."""

import re
from pathlib import Path

import pytest

from mildladder.core.figures.forecast import forecast
from mildladder.core.ladder.moves import reordered
from mildladder.core.model import Attempt, Case
from mildladder.core.ordering.best import best_order
from mildladder.core.ordering.curve import curve
from mildladder.exchange.playbook_file import read_playbook

DOCS = Path(__file__).parent.parent / "docs"
FIVE = read_playbook((DOCS / "examples/five-rungs.yaml").read_bytes(), "five-rungs.yaml")
TEXT = (DOCS / "ordering.md").read_text()


def test_the_worked_example_is_the_best_order_with_its_figures():
    best = best_order(FIVE)
    titles = [FIVE.step(FIVE.ladder[rung].step).title for rung in best.order]
    table = re.findall(
        r"^\| ([A-Z][a-z ]+) \| [\d.]+ \| [\d.]+ \| [\d.]+ \| ([\d.]+) \| ([\d.]+) \| ([\d.]*) ?\|$", TEXT, re.M
    )
    assert [row[0] for row in table] == titles
    for (_, left, minutes, harm), rung in zip(table, best.forecast.rungs, strict=True):
        assert float(left) == pytest.approx(rung.arriving)
        assert float(minutes) == pytest.approx(rung.effort)
        assert float(harm or 0) == pytest.approx(rung.harm)
    assert f"{best.forecast.effort:.2f} + 5 · {best.forecast.harm:.2f} = {best.objective:.2f}" in TEXT


def test_the_corners_that_the_example_names_are_those_of_the_curve():
    for point in curve(FIVE).points:
        figures = forecast(reordered(FIVE, point.order))
        assert f"{figures.effort:.2f} minutes and {f'{figures.harm:.3f}'.rstrip('0')}" in TEXT.replace(
            "0.10 harm", "0.1 harm"
        )


def test_the_description_of_files_has_every_key_of_a_case_and_of_an_attempt():
    text = (DOCS / "formats.md").read_text()
    cases, attempts = text.split("## Logged cases")[1].split("An attempt:")
    for part, model in ((cases, Case), (attempts, Attempt)):
        rows = re.findall(r"^\| (`.+?) \|", part, re.M)
        assert {key for row in rows for key in re.findall(r"`(\w+)`", row)} == set(model.model_fields)
