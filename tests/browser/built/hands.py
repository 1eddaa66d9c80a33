"""Two ways to work a page, told in the same words: by keyboard alone, and by pointer with nothing but typing beside it."""

import re

from playwright.sync_api import Page, TimeoutError

# The name by which a person, or a screen reader, finds what has the focus.
_NAME = """() => {
  const at = document.activeElement;
  if (!at) return "";
  const name = at.getAttribute("aria-label") || (at.labels && at.labels[0] && at.labels[0].innerText) || at.innerText;
  return (name || "").trim().replace(/\\s+/g, " ");
}"""
_MOST_TABS = 900


class Keyboard:
    """Nothing but keys. `deeds`: presses and chords, the characters of texts apart."""

    def __init__(self, page: Page) -> None:
        self.page, self.deeds = page, 0
        # Asked for once and for all: a chooser that opens before it is asked for stays open where nobody can close it.
        page.on("filechooser", lambda _: None)
        page.evaluate("""() => {
          window.pointed = 0;
          window.heard = [];
          const region = document.getElementById("announcements");
          new MutationObserver(() => window.heard.push(region.textContent.replace("\\u00a0", "")))
            .observe(region, { childList: true, characterData: true, subtree: true });
          for (const kind of ["pointerdown", "mousedown"])
            window.addEventListener(kind, (event) => { if (event.isTrusted) window.pointed += 1; }, true);
        }""")

    def press(self, key: str) -> None:
        """One key."""
        self.deeds += 1
        self.page.keyboard.press(key)

    def to(self, name: str, back: bool = False) -> None:
        """Go on with Tab to what is called so."""
        wanted = re.compile(name if name.startswith("^") else f"^{re.escape(name)}$")
        for _ in range(_MOST_TABS):
            self.page.keyboard.press("Shift+Tab" if back else "Tab")
            if wanted.search(self.page.evaluate(_NAME)):
                self.deeds += 1
                return
        raise AssertionError(f"no way by Tab to {name!r}")

    def write(self, name: str, text: str) -> None:
        """Go to a field and write into it, in place of what stood there."""
        self.to(name)
        self.page.keyboard.press("Control+a")
        self.page.keyboard.insert_text(text)
        self.deeds += 1

    def choose(self, name: str, option: str) -> None:
        """Go to a choice and take one of its options by its first letters."""
        self.to(name)
        self._take(option)

    def _take(self, option: str) -> None:
        labels = self.page.evaluate("() => [...document.activeElement.options].map((one) => one.label)")
        self.page.keyboard.press("Home")
        for _ in range(labels.index(option)):
            self.page.keyboard.press("ArrowDown")
        chosen = self.page.evaluate("() => document.activeElement.selectedOptions[0].label")
        assert chosen == option or self.page.evaluate("() => document.activeElement.value") == "", (chosen, option)
        self.deeds += 1

    def do(self, name: str) -> None:
        """Press a button, a link or the head of a folded part."""
        self.to(name)
        self.press("Enter")

    def tick(self, name: str) -> None:
        """Tick a box."""
        self.to(name)
        self.press(" ")

    def file(self, name: str, path: str) -> None:
        """Give a file by the chooser that a key opens. A browser that is busy may take the key and open nothing: it is
        pressed once more, where it still has the focus."""
        self.to(name)
        try:
            with self.page.expect_file_chooser(timeout=6_000) as chooser:
                self.press(" ")
        except TimeoutError:
            assert re.search(name, self.page.evaluate(_NAME)), "the field has lost the focus"
            with self.page.expect_file_chooser() as chooser:
                self.press(" ")
        chooser.value.set_files(path)

    def rung(self, title: str) -> None:
        """Go to a rung by the arrow keys."""
        self.page.wait_for_function(
            "(title) => [...document.querySelectorAll('[data-rung]')].some((one) => one.innerText === title)", arg=title
        )
        self.to_rungs()
        for key in ("ArrowUp", "ArrowDown"):
            for _ in range(60):
                if self.page.evaluate(_NAME) == title:
                    self.deeds += 1
                    return
                before = self.page.evaluate(_NAME)
                self.page.keyboard.press(key)
                if self.page.evaluate(_NAME) == before:
                    break
        raise AssertionError(f"no rung {title!r}")

    def to_rungs(self) -> None:
        """Go to the list of rungs, one stop of Tab."""
        for _ in range(_MOST_TABS):
            if self.page.evaluate("() => document.activeElement?.hasAttribute('data-rung') ?? false"):
                return
            self.page.keyboard.press("Shift+Tab")
        raise AssertionError("no way by Tab to the rungs")

    def heard(self) -> list[str]:
        """What was spoken, in order."""
        said: list[str] = self.page.evaluate("() => window.heard")
        return said

    def is_clean(self) -> None:
        """Nothing was pointed at."""
        assert self.page.evaluate("() => window.pointed") == 0


# The next thing of that name behind what has the focus, in the order of the page; the first one where there is none.
_NEXT = """([pattern, back]) => {
  const wanted = new RegExp(pattern);
  const nameOf = (at) =>
    (at.getAttribute("aria-label") || (at.labels && at.labels[0] && at.labels[0].innerText) || at.innerText || "")
      .trim().replace(/\\s+/g, " ");
  const all = [...document.querySelectorAll("a, button, input, textarea, select, summary")].filter(
    (one) => one.getClientRects().length > 0 && !one.disabled && wanted.test(nameOf(one)),
  );
  const at = document.activeElement;
  const isBehind = (one) => at.compareDocumentPosition(one) & Node.DOCUMENT_POSITION_FOLLOWING;
  const isBefore = (one) => at.compareDocumentPosition(one) & Node.DOCUMENT_POSITION_PRECEDING;
  return (back ? all.filter(isBefore).at(-1) : all.find(isBehind)) ?? all[0] ?? null;
}"""
# What the keys of a rung do, by what stands beside it.
_DEEDS = {"r": "into a side rail", "m": "mark", "Delete": "take out"}
_FIELDS = {"n": "Why it stands here", "w": "condition: only when"}


class Pointer(Keyboard):
    """Everything is pressed with the pointer; keys write texts alone."""

    def press(self, key: str) -> None:
        """What that key would do, with the pointer."""
        self.deeds += 1
        if key in _DEEDS or key in _FIELDS:
            self.to(_DEEDS.get(key) or _FIELDS[key])
        elif key == "ArrowDown":
            self.page.get_by_role("option").first.click()
        elif key == "Enter" and not self.is_pressed:
            self.page.keyboard.press("Enter")

    is_pressed = False

    def to(self, name: str, back: bool = False) -> None:
        """Press what is called so: a field gets the cursor, a button does its deed."""
        pattern = name if name.startswith("^") else f"^{re.escape(name)}$"
        self.page.wait_for_function(_NEXT, arg=[pattern, back])
        found = self.page.evaluate_handle(_NEXT, [pattern, back]).as_element()
        self.is_pressed = found.evaluate("(one) => ['A', 'BUTTON', 'SUMMARY'].includes(one.tagName)")
        if found.evaluate("(one) => one.tagName === 'SELECT' || one.type === 'file'"):
            found.scroll_into_view_if_needed()
            found.focus()
        else:
            found.click()
        self.deeds += 1

    def _take(self, option: str) -> None:
        self.page.evaluate_handle("() => document.activeElement").as_element().select_option(label=option)

    def do(self, name: str) -> None:
        """Press a button, a link or the head of a folded part."""
        self.to(name)

    def tick(self, name: str) -> None:
        """Tick a box."""
        self.to(name)

    def file(self, name: str, path: str) -> None:
        """Give a file by the chooser that a press opens."""
        self.to(name)
        with self.page.expect_file_chooser() as chooser:
            self.page.evaluate_handle("() => document.activeElement").as_element().click()
        chooser.value.set_files(path)

    def rung(self, title: str) -> None:
        """Press a rung."""
        self.page.get_by_role("button", name=title, exact=True).first.click()

    def is_clean(self) -> None:
        """It was pointed at things."""
        assert self.page.evaluate("() => window.pointed") > 50
