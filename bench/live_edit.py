"""From the key that moves a rung to the new figures painted, in headless Chromium on the demo desk."""

import statistics
from typing import Any

from playwright.sync_api import Locator, Page, expect

__all__ = ["live_edit", "live_edit_by_the_cases"]

_WATCH = """
() => {
  const totals = document.querySelector('[aria-label=Totals]');
  window.painted = [];
  window.rows = [];
  let pressed = 0;
  let moved = 0;
  addEventListener('keydown', (event) => {
    if (event.altKey && event.key.startsWith('Arrow')) pressed = moved = event.timeStamp;
  }, true);
  const order = () => [...document.querySelectorAll('[data-rung]')].map((one) => one.dataset.rung).join();
  let was = order();
  new MutationObserver(() => {
    const since = moved;
    if (!since || order() === was) return;
    was = order();
    moved = 0;
    requestAnimationFrame(() => setTimeout(() => window.rows.push(performance.now() - since)));
  }).observe(document.querySelector('[aria-label=Ladder]'), { subtree: true, childList: true });
  new MutationObserver(() => {
    const since = pressed;
    if (!since || totals.dataset.behind) return;
    pressed = 0;
    requestAnimationFrame(() => setTimeout(() => {
      window.painted.push(performance.now() - since);
      window.told();
    }));
  }).observe(totals, { subtree: true, childList: true, characterData: true, attributes: true });
}
"""


# Waits without asking at every frame, which would have the page drawn for the asking alone.
_PAINTED = """
(wanted) => new Promise((done) => {
  window.told = () => window.painted.length >= wanted && done();
  window.told();
})
"""


# From one key to the next of whoever looks at what it did.
_REST_MS = 300


def live_edit(page: Page, address: str, playbook: str, at: Locator, moves: int = 200) -> dict[str, Any]:
    """Milliseconds over that many moves of the rung there, up and down again: each looked at before the next; and each
    pressed as soon as the figures of the one before are there."""
    return {
        "moves": moves,
        **_moved(page, address, playbook, at, moves, _REST_MS),
        "one_upon_the_other": _moved(page, address, playbook, at, moves // 2, 0),
    }


# What the plum intervals under the totals say, and when they came to say something else.
_INTERVALS = """
() => {
  const totals = document.querySelector('[aria-label=Totals]');
  const say = () => [...totals.querySelectorAll('.text-plum')].map((one) => one.textContent).join();
  window.spans = [];
  let pressed = 0;
  let was = say();
  addEventListener('keydown', (event) => {
    if (event.altKey && event.key.startsWith('Arrow')) pressed = event.timeStamp;
  }, true);
  new MutationObserver(() => {
    if (!pressed || totals.dataset.behind || say() === was) return;
    const since = pressed;
    pressed = 0;
    was = say();
    requestAnimationFrame(() => setTimeout(() => {
      window.spans.push(performance.now() - since);
      window.told();
    }));
  }).observe(totals, { subtree: true, childList: true, characterData: true, attributes: true });
}
"""
_SAID = """
(wanted) => new Promise((done) => {
  window.told = () => window.spans.length >= wanted && done();
  window.told();
})
"""


def live_edit_by_the_cases(page: Page, address: str, playbook: str, at: Locator, moves: int = 60) -> dict[str, Any]:
    """The same where figures are by what the cases have taught: the row, the means, and their intervals."""
    # Not by way of the Desk, which has what to do next worked out for every symptom meanwhile.
    page.goto(f"{address}/playbooks/{playbook}/ladder")
    page.evaluate("() => localStorage.setItem('mild-ladder-figures', 'cases')")
    page.reload()
    expect(page.get_by_role("button", name="by the cases")).to_have_attribute("aria-pressed", "true", timeout=60_000)
    expect(page.locator("[aria-label=Totals] .text-plum").first).to_be_visible(timeout=60_000)
    at.focus()
    page.evaluate(_WATCH)
    page.evaluate(_INTERVALS)
    for number in range(moves):
        page.keyboard.press("Alt+ArrowUp" if number % 2 == 0 else "Alt+ArrowDown")
        page.evaluate(_PAINTED, number + 1)
        page.evaluate(_SAID, number + 1)
        page.wait_for_timeout(_REST_MS)
    page.evaluate("() => localStorage.setItem('mild-ladder-figures', 'judged')")
    return {name: _spread(page, what) for name, what in (("row", "rows"), ("means", "painted"), ("intervals", "spans"))}


def _moved(page: Page, address: str, playbook: str, at: Locator, moves: int, rest_ms: int) -> dict[str, Any]:
    page.goto(f"{address}/playbooks/{playbook}/ladder")
    at.focus()
    page.evaluate(_WATCH)
    for number in range(moves):
        page.keyboard.press("Alt+ArrowUp" if number % 2 == 0 else "Alt+ArrowDown")
        page.evaluate(_PAINTED, number + 1)
        page.wait_for_timeout(rest_ms)
    return {"row": _spread(page, "rows"), "figures": _spread(page, "painted")}


def _spread(page: Page, what: str) -> dict[str, float]:
    taken = sorted(page.evaluate(f"window.{what}"))
    return {
        "median_ms": round(statistics.median(taken), 1),
        "p95_ms": round(taken[int(0.95 * len(taken)) - 1], 1),
        "most_ms": round(taken[-1], 1),
    }
