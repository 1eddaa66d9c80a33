"""Keep pages of other sites out: whatever a browser can be made to send from there reads and changes nothing here."""

from urllib.parse import urlsplit

from flask import Flask, request
from flask.sessions import SecureCookieSessionInterface
from werkzeug.exceptions import Forbidden

from mildladder.api.addresses import is_loopback
from mildladder.api.writers import SAFE

__all__ = ["install"]


def install(app: Flask) -> None:
    """Look at every request before anything else does."""
    app.session_interface = _Sessions()
    app.before_request(_refuse_strangers)


class _Sessions(SecureCookieSessionInterface):
    """Behind TLS the cookie is bound to this very host (RFC 6265bis, section 4.1.3.2); browsers keep no such name
    without it."""

    def get_cookie_name(self, app: Flask) -> str:
        name = super().get_cookie_name(app)
        return f"__Host-{name}" if request.is_secure else name

    def get_cookie_secure(self, app: Flask) -> bool:  # noqa: ARG002
        return request.is_secure


def _refuse_strangers() -> None:
    """A page elsewhere may point its own name at this machine; only loopback names are answered."""
    if not is_loopback(urlsplit(f"//{request.host}").hostname):
        raise Forbidden("this desk answers on loopback only; open it as http://127.0.0.1")
    if request.method not in SAFE and not _is_of_this_page():
        raise Forbidden("this came from a page of another site; open the desk itself")


def _is_of_this_page() -> bool:
    """Whether a write was sent by a page of this desk, or by no page at all: a browser says where it comes from, and
    another port of this machine is another site too."""
    site, origin = request.headers.get("Sec-Fetch-Site"), request.headers.get("Origin")
    if site is not None and site not in ("same-origin", "none"):
        return False
    return origin is None or origin == request.host_url.rstrip("/")
