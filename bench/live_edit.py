"""From the key that moves a rung to the new figures painted, in headless Chromium on the demo desk."""

import statistics
from typing import Any

from playwright.sync_api import Page

__all__ = ["live_edit"]

_WATCH = """
() => {
  const totals = document.querySelector('[aria-label=Totals]');
  window.painted = [];
  let pressed = 0;
  addEventListener('keydown', (event) => {
    if (event.altKey && event.key.startsWith('Arrow')) pressed = event.timeStamp;
  }, true);
  new MutationObserver(() => {
    const since = pressed;
    if (!since) return;
    pressed = 0;
    requestAnimationFrame(() => setTimeout(() => window.painted.push(performance.now() - since)));
  }).observe(totals, { subtree: true, childList: true, characterData: true });
}
"""


def live_edit(page: Page, address: str, playbook: str, rung: str, moves: int = 200) -> dict[str, Any]:
    """Milliseconds over that many moves of one rung up and down again."""
    page.goto(f"{address}/playbooks/{playbook}/ladder")
    page.locator(f"[data-rung='{rung}#1']").focus()
    page.evaluate(_WATCH)
    for number in range(moves):
        page.keyboard.press("Alt+ArrowUp" if number % 2 == 0 else "Alt+ArrowDown")
        page.wait_for_function("wanted => window.painted.length >= wanted", arg=number + 1)
    taken = sorted(page.evaluate("window.painted"))
    return {
        "moves": len(taken),
        "median_ms": round(statistics.median(taken), 1),
        "p95_ms": round(taken[int(0.95 * len(taken)) - 1], 1),
        "most_ms": round(taken[-1], 1),
    }
