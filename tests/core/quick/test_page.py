"""The page on quick words tells the truth: each of its examples comes to what stands beside it."""

from pathlib import Path

import pytest

from mildladder.core.quick import read_line

PAGE = Path(__file__).parents[3] / "docs" / "quick-words.md"
EXAMPLES = [
    [cell.strip() for cell in line.strip("|").split("|")]
    for line in PAGE.read_text().split("## Examples")[1].splitlines()
    if line.startswith("| `")
]


@pytest.mark.parametrize(("line", "understood", "not_understood"), EXAMPLES)
def test_an_example_comes_to_what_stands_beside_it(line, understood, not_understood):
    step = read_line(line.strip("`"))
    assert f"**{step.title}** · {step.says}" == understood
    assert ", ".join(f"“{one.text}”" for one in step.unread) == not_understood


def test_the_page_has_examples():
    assert len(EXAMPLES) > 10
