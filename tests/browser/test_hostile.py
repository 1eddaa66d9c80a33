"""A page of another site, or of another port of this machine: it reads nothing here and changes nothing."""

import threading
from collections.abc import Iterator
from contextlib import contextmanager
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer

import pytest
from playwright.sync_api import Browser

from tests.browser.conftest import Served, new_context, sit_down

# Everything that a page can try without being asked: simple requests, forms, scripts, frames, pictures.
PAGE = """
<!doctype html><title>Elsewhere</title>
<script>
const tell = async (name, work) => { try { return [name, await work()]; } catch (error) { return [name, "refused"]; } };
window.attack = async (desk, before) => Promise.all([
  tell("read", async () => (await fetch(desk + "/api/symptoms", { credentials: "include" })).text()),
  tell("read blindly", async () => (await fetch(desk + "/api/symptoms", { credentials: "include", mode: "no-cors" })).text()),
  ...["text/plain", "application/json", "application/x-www-form-urlencoded"].flatMap((type) => [
    tell("write as " + type, async () => (await fetch(desk + "/api/people", {
      method: "POST", credentials: "include", mode: "no-cors", headers: { "Content-Type": type },
      body: '{"name": "Mallow", "role": "lead"}',
    })).type),
    tell("change as " + type, async () => (await fetch(desk + "/api/playbooks/gate-arm-up/draft/edits", {
      method: "POST", credentials: "include", headers: { "Content-Type": type },
      body: '{"client": "mallowpage", "number": 1, "base": 1, "group": "mallow-1", "deed": {"kind": "edition", "edition": 1}}',
    })).status),
  ]),
  tell("beacon", async () => navigator.sendBeacon(desk + "/api/people", '{"name": "Mallow", "role": "lead"}')),
  tell("script", () => new Promise((done, failed) => {
    const script = Object.assign(document.createElement("script"), { src: desk + "/api/me", onload: () => done("ran"), onerror: failed });
    document.head.append(script);
  })),
]);
</script>
<form method="post" enctype="text/plain"><input name='{"name": "Mallow", "role": "lead", "x": "' value='"}'></form>
"""


class _Elsewhere(BaseHTTPRequestHandler):
    def do_GET(self) -> None:
        self.send_response(200)
        self.send_header("Content-Type", "text/html")
        self.end_headers()
        self.wfile.write(PAGE.encode())

    def log_message(self, *_args: object) -> None:
        pass


@contextmanager
def elsewhere() -> Iterator[int]:
    with ThreadingHTTPServer(("127.0.0.1", 0), _Elsewhere) as server:
        threading.Thread(target=server.serve_forever, daemon=True).start()
        yield server.server_address[1]
        server.shutdown()


@pytest.mark.parametrize("host", ["127.0.0.1", "localhost"])
def test_a_hostile_page_reads_and_changes_nothing(browser: Browser, demo: Served, host: str):
    with elsewhere() as port, new_context(browser) as context:
        sit_down(context, demo)
        people = context.request.get(f"{demo.address}/api/me").json()["people"]
        before = context.request.get(f"{demo.address}/api/playbooks/gate-arm-up/draft").json()["revision"]
        page = context.new_page()
        page.goto(f"http://{host}:{port}/")
        told = dict(page.evaluate("(desk) => window.attack(desk)", demo.address))
        assert told["read"] == told["script"] == "refused"
        assert told["read blindly"] == ""
        assert {what: said for what, said in told.items() if what.startswith("change")} == {
            f"change as {kind}": "refused"
            for kind in ("text/plain", "application/json", "application/x-www-form-urlencoded")
        }
        page.evaluate(f"document.forms[0].action = '{demo.address}/api/people'")
        with page.expect_navigation():
            page.evaluate("document.forms[0].submit()")
        assert "Mallow" not in page.content()
        assert context.request.get(f"{demo.address}/api/me").json()["people"] == people
        after = context.request.get(f"{demo.address}/api/playbooks/gate-arm-up/draft").json()["revision"]
        assert after == before
