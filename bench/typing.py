"""From a key to its letter painted, where people type while something else goes on, and the first load of a page."""

import statistics
from collections.abc import Mapping
from typing import Any

from playwright.sync_api import Page, expect

__all__ = ["first_loads", "typed", "typing"]

_WATCH = """
(field) => {
  window.painted = [];
  field.addEventListener('keydown', (event) => {
    const since = event.timeStamp;
    requestAnimationFrame(() => setTimeout(() => window.painted.push(performance.now() - since)));
  });
}
"""
_PLACES = {"desk": "/", "ladder": "/playbooks/kiosk-faint-tickets/ladder", "cases": "/cases", "start": "/start"}


def typing(page: Page, address: str) -> dict[str, Any]:
    """Milliseconds from key to paint: the log's filter, the note of a guided case, the reason of a rung; and, for what
    the browser itself takes until its next frame, a field on a page with nothing else."""
    page.goto("data:text/html,<label>Nothing else<input></label>")
    bare = typed(page, "Nothing else", "the arm went up for a check and stays up")
    page.goto(f"{address}/cases")
    filtered = typed(page, "Words in what was said", "the arm went up for a check and stays up")
    page.goto(f"{address}/start?playbook=kiosk-faint-tickets")
    page.get_by_role("button", name="Start", exact=False).last.click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Is the fault there now?")
    note = typed(page, "What the next person should know", "the lamp blinked twice and then it went dark")
    page.goto(f"{address}/playbooks/kiosk-faint-tickets/ladder")
    page.locator("[data-rung]").nth(2).click()
    reason = typed(page, "Why it stands here", "it costs a minute and tells most of what there is")
    return {"bare_field": bare, "log_filter": filtered, "note": note, "reason_of_a_rung": reason}


def typed(page: Page, label: str, text: str) -> dict[str, float]:
    """Milliseconds from key to paint in a field of that label."""
    field = page.get_by_label(label)
    expect(field).to_be_visible()
    page.wait_for_load_state("networkidle")
    field.evaluate(_WATCH)
    field.fill("")
    field.focus()
    for number, letter in enumerate(text, start=1):
        page.keyboard.press("Space" if letter == " " else letter)
        page.wait_for_function("wanted => window.painted.length >= wanted", arg=number)
    taken = sorted(page.evaluate("window.painted"))
    expect(field).to_have_value(text)
    p95 = taken[int(0.95 * len(taken)) - 1]
    return {"keys": len(taken), "median_ms": round(statistics.median(taken), 1), "p95_ms": round(p95, 1)}


def first_loads(page: Page, address: str, places: Mapping[str, str] = _PLACES) -> dict[str, float]:
    """Milliseconds from nothing kept to the heading of a place and its data. places: paths by name."""
    taken = {}
    for name, path in places.items():
        page.context.new_cdp_session(page).send("Network.clearBrowserCache")
        page.goto(address + path, wait_until="commit")
        page.wait_for_function("() => document.querySelector('h1') && !document.querySelector('[aria-busy=true]')")
        taken[name] = round(page.evaluate("() => performance.now()"), 0)
    return taken
