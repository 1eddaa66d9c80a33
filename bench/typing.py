"""From a key to its letter painted, where people type while something else goes on, and the first load of a page."""

import statistics
from collections.abc import Mapping
from typing import Any

from playwright.sync_api import CDPSession, Locator, Page, expect

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
# From one key to the next of whoever types seventy words a minute.
_BETWEEN_MS = 80
_PLACES = {"desk": "/", "ladder": "/playbooks/kiosk-faint-tickets/ladder", "cases": "/cases", "start": "/start"}


def typing(page: Page, address: str) -> dict[str, Any]:
    """Milliseconds from key to paint: the log's filter, the note of a guided case, the reason of a rung; and, for what
    the browser itself takes until its next frame, a field on a page with nothing else."""
    page.goto("data:text/html,<label>Nothing else<input></label>")
    bare = typed(page, "Nothing else", "the arm went up for a check and stays up")
    page.goto(f"{address}/cases")
    filtered = typed(page, "Words in what was said", "the arm went up for a check and stays up")
    page.goto(f"{address}/start?playbook=kiosk-faint-tickets")
    page.get_by_role("button", name="Begin").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Is the fault there now?")
    note = typed(page, "What the next person should know", "the lamp blinked twice and then it went dark")
    page.goto(f"{address}/playbooks/kiosk-faint-tickets/ladder")
    page.locator("[data-rung]").nth(2).click()
    reason = typed(page, "Why it stands here", "it costs a minute and tells most of what there is")
    return {"bare_field": bare, "log_filter": filtered, "note": note, "reason_of_a_rung": reason}


def typed(page: Page, label: str, text: str) -> dict[str, Any]:
    """Milliseconds from key to paint in a field of that label: at the pace of a quick typist, and with each key pressed
    as soon as the one before is painted, when it waits for the next frame. work_ms: what the page's scripts, styles
    and layout took a key."""
    field = page.get_by_label(label)
    expect(field).to_be_visible()
    page.wait_for_load_state("networkidle")
    field.evaluate(_WATCH)
    return {**_typed(page, field, text, _BETWEEN_MS), "one_upon_the_other": _typed(page, field, text, 0)}


def _typed(page: Page, field: Locator, text: str, between_ms: int) -> dict[str, float]:
    field.fill("")
    field.focus()
    page.evaluate("() => { window.painted = []; }")
    session = page.context.new_cdp_session(page)
    session.send("Performance.enable")
    before = _work(session)
    for number, letter in enumerate(text, start=1):
        page.keyboard.press("Space" if letter == " " else letter)
        page.wait_for_function("wanted => window.painted.length >= wanted", arg=number)
        page.wait_for_timeout(between_ms)
    work = (_work(session) - before) / len(text)
    taken = sorted(page.evaluate("window.painted"))
    expect(field).to_have_value(text)
    p95 = taken[int(0.95 * len(taken)) - 1]
    median = statistics.median(taken)
    return {"keys": len(taken), "median_ms": round(median, 1), "p95_ms": round(p95, 1), "work_ms": round(work, 1)}


def _work(session: CDPSession) -> float:
    """Milliseconds that scripts, styles and layout have taken since this was first asked."""
    known = {one["name"]: one["value"] for one in session.send("Performance.getMetrics")["metrics"]}
    return 1000 * sum(float(known[name]) for name in ("ScriptDuration", "RecalcStyleDuration", "LayoutDuration"))


def first_loads(page: Page, address: str, places: Mapping[str, str] = _PLACES) -> dict[str, float]:
    """Milliseconds from nothing kept to the heading of a place and its data. places: paths by name."""
    taken = {}
    for name, path in places.items():
        page.context.new_cdp_session(page).send("Network.clearBrowserCache")
        page.goto(address + path, wait_until="commit")
        page.wait_for_function("() => document.querySelector('h1') && !document.querySelector('[aria-busy=true]')")
        taken[name] = round(page.evaluate("() => performance.now()"), 0)
    return taken
