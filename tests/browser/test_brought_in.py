"""A file of cases that is being brought in: seen on the Cases page while it goes on, stopped and undone from there."""

import re

from playwright.sync_api import BrowserContext, expect

from mildladder.exchange.case_lines import write_cases
from tests.browser.conftest import served, sit_down
from tests.samples import case

COUNT = 12_000


def test_a_file_is_watched_and_stopped_and_nothing_of_it_stays(context: BrowserContext, tmp_path):
    lines = write_cases(case(n, ("clear-hold", "fixed"), days_ago=n % 50, unit=f"U-{n}") for n in range(COUNT))
    with served("demo", "--cases", "20", database=tmp_path / "desk.db") as desk:
        page = sit_down(context, desk)
        address = f"{desk.address}/api/imports?source=october.jsonl&leave_out=true"
        answer = page.request.post(address, data=b"".join(lines), headers={"Content-Type": "application/jsonl"})
        assert answer.status == 202
        page.goto(f"{desk.address}/cases")
        strip = page.get_by_role("region", name="Files being brought in")
        expect(strip).to_contain_text(re.compile(r"october\.jsonl .* of 12,000 lines logged · R\. Tamsin"))
        strip.get_by_role("button", name="Stop and undo").click()
        expect(strip).to_contain_text(re.compile("is being undone|waits"))
        # Once it is undone the strip goes, and the log is what it was.
        expect(strip).to_have_count(0)
        expect(page.get_by_text(re.compile(r"^(1\d|20)\scases$"))).to_be_visible()
