"""Three pages that edit by chance over a line that loses, doubles and delays end alike, and hold every text."""

import pytest

from mildladder.core.model import Document
from mildladder.desk.drafts.drafting import become
from tests.api.draft_line import DRAFT, simulate
from tests.conftest import AGENT_ID, LEAD_ID
from tests.core.random_ladders import random_playbook
from tests.samples import NOON


def people(app, desk):
    """Three browsers, two people: one of them sits at two."""
    rich = random_playbook(7, rungs=3, rails=1).model_copy(update={"id": "gate-arm-up"})
    with desk.writing() as session:
        become(session, Document(playbook=rich, origins={}), None, LEAD_ID, NOON)
    found = []
    for who in (LEAD_ID, AGENT_ID, LEAD_ID):
        browser = app.test_client()
        browser.put("/api/me", json={"person": who})
        found.append((browser, who))
    return found


@pytest.mark.parametrize("seed", [1, 2])
def test_all_end_alike_and_every_text_is_held(app, desk, seed):
    browsers = people(app, desk)
    assert simulate(browsers, seed, 150) == []
    edits = browsers[0][0].get(f"{DRAFT}/edits?base=2").json
    assert edits["revision"] > 50
