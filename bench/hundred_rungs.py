"""A playbook of a hundred rungs under edit, in headless Chromium: a move, a text, a scroll from end to end."""

from typing import Any

from playwright.sync_api import Page, expect

from bench.live_edit import live_edit
from bench.typing import typed
from mildladder.core.model import Playbook

__all__ = ["hundred_rungs"]

_MOVES = 60
_SCROLL = """
async () => {
  let list = document.querySelector('[data-rung]');
  while (list.scrollHeight <= list.clientHeight || getComputedStyle(list).overflowY === 'visible') {
    list = list.parentElement;
  }
  const took = [];
  let last = performance.now();
  for (let at = 0; at <= list.scrollHeight; at += 60) {
    list.scrollTop = at;
    await new Promise((next) => requestAnimationFrame(next));
    took.push(performance.now() - last);
    last = performance.now();
  }
  return took.sort((one, other) => one - other);
}
"""


def hundred_rungs(page: Page, address: str, playbook: Playbook) -> dict[str, Any]:
    """Milliseconds of a move's row and figures, of a key in a rung's reason, and between two frames of a scroll."""
    moved = live_edit(page, address, playbook.id, page.locator("[data-rung]").nth(2), _MOVES)
    page.goto(f"{address}/playbooks/{playbook.id}/ladder")
    rows = page.locator("[data-rung]")
    expect(rows).not_to_have_count(0)
    frames = page.evaluate(_SCROLL)
    rows.nth(50).click()
    return {
        "rows": rows.count(),
        **moved,
        "scroll": {"frames": len(frames), "p95_ms": round(frames[int(0.95 * len(frames)) - 1], 1)},
        "reason_of_a_rung": typed(page, "Why it stands here", "it costs a minute and tells most of what there is"),
    }
