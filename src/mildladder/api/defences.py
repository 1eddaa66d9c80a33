"""Keep pages of other sites out: whatever a browser can be made to send from there reads and changes nothing here."""

from urllib.parse import urlsplit

from flask import Flask, request
from flask.sessions import SecureCookieSessionInterface
from werkzeug.exceptions import Forbidden

from mildladder.api.addresses import is_loopback
from mildladder.api.lanes import SAFE

__all__ = ["install"]


def install(app: Flask) -> None:
    """Look at every request before anything else does."""
    app.session_interface = _Sessions()
    app.before_request(_refuse_strangers)


class _Sessions(SecureCookieSessionInterface):
    """A cookie counts on its port alone, which browsers do not see to. Behind TLS it is bound to this very host too
    (RFC 6265bis, section 4.1.3.2); browsers keep no such name without it."""

    def get_cookie_name(self, app: Flask) -> str:
        name = f"{super().get_cookie_name(app)}-{_port()}"
        return f"__Host-{name}" if request.is_secure else name

    def get_cookie_secure(self, app: Flask) -> bool:  # noqa: ARG002
        return request.is_secure


def _port() -> int:
    return urlsplit(f"//{request.host}").port or (443 if request.is_secure else 80)


def _refuse_strangers() -> None:
    """A page elsewhere may point its own name at this machine; only loopback names are answered. Reading asks for work
    too, and a picture's address on a page elsewhere is enough for that: of the API nothing is asked from there."""
    try:
        host = urlsplit(f"//{request.host}").hostname
    except ValueError:
        host = None
    if not is_loopback(host):
        raise Forbidden("this desk answers on loopback only; open it as http://127.0.0.1")
    is_of_api = request.path.startswith("/api/") or request.method not in SAFE
    if is_of_api and not _is_of_this_page():
        raise Forbidden("this came from a page of another site; open the desk itself")


def _is_of_this_page() -> bool:
    """Whether a request was sent by a page of this desk, or by no page at all: a browser says where it comes from, and
    another port of this machine is another site too."""
    site, origin = request.headers.get("Sec-Fetch-Site"), request.headers.get("Origin")
    if site is not None and site not in ("same-origin", "none"):
        return False
    return origin is None or origin == request.host_url.rstrip("/")
