"""What every screen does at each width: nothing sideways, nothing over another, nothing cut that has room."""

from collections.abc import Callable
from itertools import product

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Served, new_context, sit_down
from tests.browser.test_every_page import PLACES, serious, settled
from tests.browser.test_guide import start
from tests.parts import in_part

WINDOWS = ((1680, 1000), (1024, 768))
# A phone guides and reads, a small window shows the ladder too.
SMALL_WINDOWS = {
    (390, 844): ("desk", "start", "ladder", "case", "nowhere"),
    (640, 400): ("desk", "start", "ladder", "cases", "case"),
}
# Size, colours that are asked for, and whether the system dictates its own; all of them in `make long`.
AXED = ((1280, 800, "light", "none"), (390, 800, "dark", "none"))
ALL_AXED = (
    (1280, 800, "dark", "none"),
    (1280, 800, "light", "active"),
    (1024, 800, "light", "none"),
    (1024, 800, "dark", "active"),
    (390, 800, "light", "none"),
)
# Boxes of all that can be pressed and is seen, as far as what scrolls lets it be seen.
OVERLAPS = """() => {
  const seen = [...document.querySelectorAll('button, a[href], input, select, textarea')].flatMap(one => {
    let {left, top, right, bottom} = one.getBoundingClientRect()
    for (let at = one.parentElement; at; at = at.parentElement) {
      if (getComputedStyle(at).overflow === 'visible') continue
      const box = at.getBoundingClientRect()
      left = Math.max(left, box.left); top = Math.max(top, box.top)
      right = Math.min(right, box.right); bottom = Math.min(bottom, box.bottom)
    }
    const isSeen = right - left > 3 && bottom - top > 3 && one.checkVisibility({visibilityProperty: true})
      && !one.closest('.sr-only')
    return isSeen ? [{one, left, top, right, bottom}] : []
  })
  const over = []
  for (const [n, a] of seen.entries()) for (const b of seen.slice(n + 1)) {
    if (a.one.contains(b.one) || b.one.contains(a.one)) continue
    const isOver = Math.min(a.right, b.right) - Math.max(a.left, b.left) > 2
      && Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top) > 2
    const isStuck = [a, b].some(({one}) => one.closest('[class*=sticky]'))
    if (isOver && !isStuck) over.push(`${a.one.innerText || a.one.ariaLabel} over ${b.one.innerText || b.one.ariaLabel}`)
  }
  return over
}"""
# Texts that stand over one another, as far as what scrolls lets them be seen.
TEXTS_OVER = """() => {
  const walker = document.createTreeWalker(document.getElementById('root'), NodeFilter.SHOW_TEXT), seen = []
  for (let node = walker.nextNode(); node; node = walker.nextNode()) {
    const one = node.parentElement
    if (!node.data.trim() || !one.checkVisibility({visibilityProperty: true})) continue
    if (one.closest('.sr-only, svg, option, [class*=sticky], [role=listbox]')) continue
    const range = document.createRange()
    range.selectNodeContents(node)
    for (const box of range.getClientRects()) {
      let {left, top, right, bottom} = box
      for (let at = one; at; at = at.parentElement) {
        if (getComputedStyle(at).overflow === 'visible') continue
        const clip = at.getBoundingClientRect()
        left = Math.max(left, clip.left); top = Math.max(top, clip.top)
        right = Math.min(right, clip.right); bottom = Math.min(bottom, clip.bottom)
      }
      if (right - left > 2 && bottom - top > 2) seen.push({node, left, top, right, bottom})
    }
  }
  const over = []
  for (const [n, a] of seen.entries()) for (const b of seen.slice(n + 1)) {
    if (a.node === b.node) continue
    if (Math.min(a.right, b.right) - Math.max(a.left, b.left) > 3 && Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top) > 6)
      over.push(`${a.node.data.slice(0, 40)} over ${b.node.data.slice(0, 40)}`)
  }
  return over
}"""
# What scrolls sideways and is no table or list that has to.
SIDEWAYS = """() => [...document.querySelectorAll('#root *')].filter(one => {
  const style = getComputedStyle(one)
  return ['auto', 'scroll'].includes(style.overflowX) && one.scrollWidth > one.clientWidth + 1 && one.clientWidth > 0
    && !['Cases', 'Evidence by step', 'Lines left out', 'Ladder'].includes(one.ariaLabel ?? '')
}).map(one => one.ariaLabel || one.className.slice(0, 60))"""
# Texts that are cut off though their row has room beside or below them.
CUT = """() => [...document.querySelectorAll('h1, h2, h3, button, a, dt, dd, th, label, legend')].filter(one =>
  one.checkVisibility() && !one.closest('.sr-only') && one.scrollWidth > one.clientWidth + 2
  && getComputedStyle(one).overflow !== 'visible' && one.clientWidth > 0 && one.clientWidth < 60
).map(one => one.innerText.slice(0, 60))"""
SMALL = """() => [...document.querySelectorAll('button.button, input:not([type=radio]):not([type=checkbox]), select, nav a')]
  .filter(one => one.checkVisibility() && !one.closest('.sr-only') && one.getBoundingClientRect().height < 43.5)
  .map(one => `${one.innerText || one.ariaLabel} ${one.getBoundingClientRect().height}`)"""


def assert_fits(page: Page, where: str) -> None:
    assert page.evaluate("() => document.documentElement.scrollWidth - window.innerWidth") <= 0, f"{where}: sideways"
    assert page.evaluate(SIDEWAYS) == [], where
    assert page.evaluate(OVERLAPS) == [], where
    assert page.evaluate(TEXTS_OVER) == [], where
    assert page.evaluate(CUT) == [], where


@pytest.mark.parametrize("name", PLACES)
def test_every_screen_fits_every_window_and_axe_finds_nothing(context, demo: Served, name):
    page = sit_down(context, demo)
    page.goto(demo.address + PLACES[name])
    for window in WINDOWS:
        page.set_viewport_size({"width": window[0], "height": window[1]})
        settled(page)
        assert_fits(page, f"{name} at {window}")
    assert_axe_finds_nothing(page, name, AXED)


def assert_axe_finds_nothing(page: Page, name: str, looks) -> None:
    for width, height, theme, forced in looks:
        page.set_viewport_size({"width": width, "height": height})
        page.emulate_media(color_scheme=theme, forced_colors=forced)
        assert serious(page) == [], f"{name} at {width}, {theme}, forced colours {forced}"


@pytest.mark.long
@pytest.mark.parametrize("name", PLACES)
def test_axe_finds_nothing_however_a_screen_is_looked_at(context, demo: Served, name):
    page = sit_down(context, demo)
    page.goto(demo.address + PLACES[name])
    settled(page)
    assert_axe_finds_nothing(page, name, ALL_AXED)


@pytest.mark.parametrize("window", SMALL_WINDOWS, ids=lambda window: f"{window[0]}x{window[1]}")
def test_a_screen_for_small_windows_fits_the_one_that_it_is_opened_in(browser, demo: Served, window):
    with new_context(browser) as context:
        page = sit_down(context, demo)
        page.set_viewport_size({"width": window[0], "height": window[1]})
        for name in SMALL_WINDOWS[window]:
            page.goto(demo.address + PLACES[name])
            settled(page)
            assert_fits(page, f"{name} at {window}")
            assert page.evaluate(SMALL) == [], f"{name} at {window}"


LOOKS = [((390, 844), "dark"), *product([(1024, 768), (1280, 800)], ["light", "dark"]), ((390, 844), "light")]


@pytest.mark.parametrize(("window", "theme"), in_part(LOOKS, 2), ids=str)
def test_a_guided_case_and_its_dialogs_fit_and_axe_finds_nothing(browser, demo: Served, window, theme):
    with new_context(browser, color_scheme=theme) as context:
        page = sit_down(context, demo)
        page.set_viewport_size({"width": window[0], "height": window[1]})
        start(page, demo)
        for key, dialog in ((None, None), ("h", "Hand off or close"), ("p", "Let the case wait"), ("?", "Keys")):
            if key:
                page.keyboard.press(key)
                expect(page.get_by_role("dialog", name=dialog)).to_be_visible()
            else:
                assert_fits(page, f"guided at {window}")
            assert serious(page) == [], f"{dialog} at {window}, {theme}"
            page.keyboard.press("Escape")
            expect(page.get_by_role("dialog")).to_have_count(0)


def rung_boxes(page: Page) -> list[dict]:
    return page.locator("[data-rung]").evaluate_all(
        "all => all.map(one => { const box = one.closest('div').getBoundingClientRect(), title = one.getBoundingClientRect();"
        " return {top: box.top, bottom: box.bottom, width: one.parentElement.clientWidth, text: one.innerText,"
        " isCut: one.scrollHeight > one.clientHeight + 3} })"
    )


def ladder(page: Page, desk: Served, window: tuple[int, int]) -> list[dict]:
    page.set_viewport_size({"width": window[0], "height": window[1]})
    page.goto(f"{desk.address}/playbooks/gate-arm-up/ladder")
    expect(page.locator("[data-rung]").first).to_be_visible()
    return rung_boxes(page)


CASES: dict[tuple[int, int], Callable[[list[dict]], bool]] = {
    (1280, 800): lambda rungs: sum(one["bottom"] <= 800 for one in rungs) >= 8,
    (1024, 768): lambda rungs: sum(one["bottom"] <= 768 for one in rungs) >= 6,
    (640, 400): lambda rungs: sum(one["bottom"] <= 400 for one in rungs) >= 1,
    (390, 844): lambda rungs: sum(one["bottom"] <= 844 for one in rungs) >= 4,
}


@pytest.mark.parametrize("window", CASES, ids=lambda window: f"{window[0]}x{window[1]}")
def test_a_ladder_shows_whole_rows_and_whole_titles(browser, demo: Served, window):
    with new_context(browser) as context:
        rungs = ladder(sit_down(context, demo), demo, window)
        assert CASES[window](rungs), rungs
        assert min(one["width"] for one in rungs) >= 170
        assert [one["text"] for one in rungs if one["isCut"]] == []
