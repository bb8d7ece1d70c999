"""Who may ask what: pages of other origins may not, and nobody may show this one inside of theirs.

The server is for the one machine that it runs on. A page from elsewhere that is open in the same browser must not be
able to read or change parts through it: neither by its own requests (their ``Origin`` or ``Sec-Fetch-Site`` tells), nor
by a name of its own that it lets point to this machine (the ``Host`` tells).
"""

from __future__ import annotations

from urllib.parse import unquote, urlsplit

from flask import Flask, Response, request

from leadline.server.errors import refusal

HOSTS = frozenset({"127.0.0.1", "localhost", "[::1]"})
CHANGING = frozenset({"POST", "PUT", "PATCH", "DELETE"})
SAME_SITE = frozenset({"same-origin", "none"})  # none: typed by a person
HEADERS = {
    "Content-Security-Policy": "default-src 'self'; style-src 'self' 'unsafe-inline'; "
    "img-src 'self' blob: data:; worker-src 'self' blob:; "
    "connect-src 'self' blob: data:; font-src 'self' data:; frame-ancestors 'none'; base-uri 'none'; "
    "form-action 'self'",
    "X-Content-Type-Options": "nosniff",
    "X-Frame-Options": "DENY",
    "Referrer-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
}
FILES = frozenset({"/api/parts/file", "/api/files"})  # what takes a file as it is, and no JSON body


def guard(app: Flask) -> None:
    """Look at each request before it is served, and put the headers on each answer."""

    @app.before_request
    def look() -> Response | None:
        if host_of(request.host) not in HOSTS:
            return refusal(
                403,
                "other-host",
                "This server does not go by that name.",
                "Open it under the address that ./lead up has printed.",
            )
        if "\0" in request.path or "\0" in unquote(request.query_string.decode("latin-1")):
            return refusal(422, "bad-text", "The address has a character that cannot be.", "Go back to the part list.")
        origin = request.headers.get("Origin")
        other = origin is not None and _host_in(origin) != request.host
        navigates = (
            request.method == "GET"
            and request.headers.get("Sec-Fetch-Mode") == "navigate"
            and not request.path.startswith("/api/")
        )
        if other or (request.headers.get("Sec-Fetch-Site", "none") not in SAME_SITE and not navigates):
            return refusal(
                403, "other-origin", "Pages of other origins may not ask this server.", "Open Lead Line itself."
            )
        has_body = request.method in CHANGING and (request.content_length or 0) > 0
        if has_body and request.path not in FILES and request.mimetype != "application/json":
            return refusal(415, "not-json", "A change is sent as JSON.", "Set the Content-Type to application/json.")
        return None

    @app.after_request
    def protect(response: Response) -> Response:
        for name, value in HEADERS.items():
            response.headers.setdefault(name, value)
        return response


def _host_in(origin: str) -> str | None:
    """The host of an origin, with its port; None of one that is none."""
    try:
        return urlsplit(origin).netloc
    except ValueError:
        return None


def host_of(host: str) -> str:
    """A host without its port."""
    return host.rpartition(":")[0] if host.rpartition(":")[2].isdigit() else host
