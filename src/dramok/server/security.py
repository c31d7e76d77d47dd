"""Access control: Host and Origin checks, body limits, an access key when the server listens beyond this
machine.

Response headers tell browsers to run no foreign script in the page and to refuse framing.
"""

from __future__ import annotations

import hmac
from http.cookies import CookieError, SimpleCookie
from typing import Any
from urllib.parse import parse_qs, quote

from starlette.responses import JSONResponse, RedirectResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

LOOPBACK = {"127.0.0.1", "localhost", "[::1]", "::1"}
MOST_BODY = 1 * 1024 * 1024
LARGER = {
    "/imports": 21 * 1024 * 1024,
    "/pictures/zip": 501 * 1024 * 1024,
    "/pictures": 41 * 1024 * 1024,
    "/archives": 501 * 1024 * 1024,
    "/shelf/sheet": 21 * 1024 * 1024,
    "/sources": 8 * 1024 * 1024,
    "/cards/cells": 8 * 1024 * 1024,
    "/rules/lists": 8 * 1024 * 1024,
}
"""The body limit in bytes by a part of the path, for requests that need more than `MOST_BODY`."""
COOKIE = "dramok-key"
READING = ("GET", "HEAD", "OPTIONS")
POLICY = "; ".join(
    (
        "default-src 'self'",
        "script-src 'self'",
        "style-src 'self' 'unsafe-inline'",  # drawings and the editor use inline styles; no script is allowed
        "img-src 'self' data: blob:",
        "font-src 'self' data:",
        "connect-src 'self'",
        "object-src 'none'",
        "base-uri 'none'",
        "form-action 'self'",
        "frame-ancestors 'none'",
    )
)
HEADERS = (
    (b"content-security-policy", POLICY.encode()),
    (b"x-frame-options", b"DENY"),
    (b"x-content-type-options", b"nosniff"),
    (b"referrer-policy", b"no-referrer"),
    (b"cross-origin-opener-policy", b"same-origin"),
    (b"cross-origin-resource-policy", b"same-origin"),
)


class TooLarge(Exception):
    """A body without a declared length exceeded its limit."""


class Security:
    """`hosts` are the accepted host names; with `key`, every request must present it."""

    def __init__(self, app: ASGIApp, hosts: frozenset[str], key: str | None = None) -> None:
        self.app = app
        self.hosts = hosts
        self.key = key

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        begun = False

        async def marked(message: Message) -> None:
            nonlocal begun
            if message["type"] == "http.response.start":
                begun = True
                known = {name.lower() for name, _ in message["headers"]}
                message["headers"] = [
                    *message["headers"],
                    *(each for each in HEADERS if each[0] not in known),
                ]
            await send(message)

        headers = {name.decode("latin-1"): value.decode("latin-1") for name, value in scope["headers"]}
        most = next((limit for part, limit in LARGER.items() if part in scope["path"]), MOST_BODY)
        length = headers.get("content-length", "0")
        refusal = self._refusal(scope, headers)
        if refusal is None and not (
            length.isascii() and length.isdigit() and len(length) < 16 and int(length) <= most
        ):
            refusal = _too_large(most)
        if refusal is not None:
            await refusal(scope, receive, marked)
            return
        try:
            await self.app(scope, _limited(receive, most), marked)
        except TooLarge:
            if not begun:
                await _too_large(most)(scope, receive, marked)

    def _refusal(self, scope: Scope, headers: dict[str, str]) -> Any:
        host = _hostname(headers.get("host", ""))
        if host not in self.hosts:
            return _problem(
                421,
                "unknown host",
                f"this server does not answer to {host[:80]}",
                "open it by the address that it printed",
            )
        if not self._is_own(scope["method"], headers):
            return _problem(
                403,
                "foreign page",
                "this page may not use this server",
                "open the app by the address that it printed",
            )
        if self.key is None:
            return None
        offered = parse_qs(scope["query_string"].decode("latin-1")).get("key", [""])[0]
        if offered and _same(offered, self.key):
            # One slash only: two would lead to another host.
            response = RedirectResponse("/" + quote(scope["path"].lstrip("/\\"), safe="/"), status_code=303)
            response.set_cookie(COOKIE, self.key, httponly=True, samesite="strict")
            return response
        bearer = headers.get("authorization", "").removeprefix("Bearer ")
        if _same(_cookie(headers.get("cookie", "")), self.key) or _same(bearer, self.key):
            return None
        return _problem(
            401,
            "key needed",
            "this server needs its access key",
            "open it by the address, with key, that it printed",
        )

    def _is_own(self, method: str, headers: dict[str, str]) -> bool:
        """Whether a request comes from this server's own page, or from no page.

        A write must have the same host and port as origin; `null`, which sandboxed frames send, is foreign.
        """
        site = headers.get("sec-fetch-site", "none")
        origin = headers.get("origin")
        if method in READING:
            return origin in (None, "null") or _hostname(_netloc(origin or "")) in self.hosts
        if origin is None:
            return site in ("none", "same-origin")
        return _netloc(origin) == headers.get("host", "")


def _netloc(origin: str) -> str:
    """The host and port of an origin; empty if it is invalid."""
    scheme, mark, rest = origin.partition("://")
    return rest if mark and scheme in ("http", "https") and "/" not in rest else ""


def _same(one: str, other: str) -> bool:
    return hmac.compare_digest(one.encode("utf-8", "surrogatepass"), other.encode())


def _cookie(text: str) -> str:
    try:
        found = SimpleCookie(text).get(COOKIE)
    except CookieError:
        return ""
    return found.value if found else ""


def _hostname(netloc: str) -> str:
    """The host of a Host header without its port."""
    if netloc.startswith("["):
        return netloc.partition("]")[0] + "]"
    return netloc.rpartition(":")[0] if ":" in netloc else netloc


def _limited(receive: Receive, most: int) -> Receive:
    """Count the bytes of a body without a declared length, and raise TooLarge beyond the limit."""
    seen = 0

    async def counted() -> Message:
        nonlocal seen
        message = await receive()
        seen += len(message.get("body", b""))
        if seen > most:
            raise TooLarge
        return message

    return counted


def _too_large(most: int) -> JSONResponse:
    return _problem(
        413,
        "too large",
        f"the request has more than {most // 1048576} MB, or does not say how long it is",
        "send less, or split the file",
    )


def _problem(status: int, title: str, detail: str, mend: str) -> JSONResponse:
    body = {
        "type": "about:blank",
        "title": title,
        "status": status,
        "detail": detail,
        "where": "request",
        "mend": mend,
    }
    return JSONResponse(body, status_code=status, media_type="application/problem+json")
