"""A rough line between browser and server: slow, failing, cut, and back again. Kept for every screen's tests."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass, field

from playwright.sync_api import BrowserContext, Error, Page, Request, Route

__all__ = ["Line", "held", "rough_line"]

SLOW_MS = 1500
Way = Callable[[Route], None]


@dataclass
class Line:
    """What the line does with requests that change something (or, with `is_all`, with every one), and what it saw."""

    way: str = "good"
    is_all: bool = False
    seen: list[str] = field(default_factory=list)
    held: list[Route] = field(default_factory=list)

    def take(self, route: Route) -> None:
        request = route.request
        self.seen.append(f"{request.method} {_path(request)}")
        if request.method == "GET" and not self.is_all:
            route.fallback()
        else:
            getattr(self, f"_{self.way}")(route)

    def restore(self) -> None:
        """The line is good again, and what was held goes through in its order."""
        self.way = "good"
        waiting, self.held = self.held, []
        for route in waiting:
            route.continue_()

    def sent(self, part: str) -> int:
        """How many requests had this in method and path."""
        return sum(part in one for one in self.seen)

    def _good(self, route: Route) -> None:
        route.continue_()

    def _held(self, route: Route) -> None:
        """Slow, for as long as the test says."""
        self.held.append(route)

    def _cut(self, route: Route) -> None:
        route.abort()

    def _untold(self, route: Route) -> None:
        """What the page asks for is lost; what it sends goes through."""
        if route.request.method == "GET":
            route.abort()
        else:
            route.continue_()

    def _failing(self, route: Route) -> None:
        route.fulfill(status=500, body="")

    def _locked(self, route: Route) -> None:
        detail = "the desk's database is being written by others just now; try again in a moment"
        problem = {"type": "unavailable", "title": "Not available just now", "status": 503, "detail": detail}
        route.fulfill(status=503, json=problem, content_type="application/problem+json")

    def _unheard(self, route: Route) -> None:
        """It arrives, and its answer is lost."""
        route.fetch()
        # A page that was left meanwhile has let go of its request by itself.
        with suppress(Error):
            route.abort()


@contextmanager
def rough_line(where: Page | BrowserContext) -> Iterator[Line]:
    """A line whose way the test chooses; good at first, and good again at the end."""
    line = Line()
    where.route("**/api/**", line.take)
    yield line
    line.restore()
    where.unroute("**/api/**", line.take)


def held(page: Page, key: str, times: int = 8) -> None:
    """A key that is held down: one press and its repeats."""
    for _ in range(times):
        page.keyboard.down(key)
    page.keyboard.up(key)


def _path(request: Request) -> str:
    return request.url.split("/api/", 1)[1]
