"""Who may talk to the server, and how much: Host and Origin checked, bodies limited, a key when bound beyond this machine."""

from __future__ import annotations

import hmac
from http.cookies import SimpleCookie
from typing import Any
from urllib.parse import parse_qs, urlsplit

from starlette.responses import JSONResponse, RedirectResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

LOOPBACK = {"127.0.0.1", "localhost", "[::1]", "::1"}
MOST_BODY = 1 * 1024 * 1024
LARGER = {
    "/imports": 21 * 1024 * 1024,
    "/pictures/zip": 501 * 1024 * 1024,
    "/pictures": 41 * 1024 * 1024,
    "/archives": 501 * 1024 * 1024,
    "/sources": 8 * 1024 * 1024,
    "/cards/cells": 8 * 1024 * 1024,
    "/rules/lists": 8 * 1024 * 1024,
}
"""Most bytes of a request, by a part of its path, where more than `MOST_BODY` is needed."""
COOKIE = "dramok-key"


class Safety:
    """`hosts` are the names that the server answers to; `key` is demanded of everyone when it is set."""

    def __init__(self, app: ASGIApp, hosts: frozenset[str], key: str | None = None) -> None:
        self.app = app
        self.hosts = hosts
        self.key = key

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        headers = {name.decode("latin-1"): value.decode("latin-1") for name, value in scope["headers"]}
        refusal = self._refusal(scope, headers)
        if refusal is not None:
            await refusal(scope, receive, send)
            return
        most = next((limit for part, limit in LARGER.items() if part in scope["path"]), MOST_BODY)
        length = headers.get("content-length", "0")
        if not length.isdigit() or int(length) > most:
            await _problem(
                413,
                "too large",
                f"the request has more than {most // 1048576} MB",
                "send less, or split the file",
            )(scope, receive, send)
            return
        await self.app(scope, _limited(receive, most), send)

    def _refusal(self, scope: Scope, headers: dict[str, str]) -> Any:
        host = _hostname(headers.get("host", ""))
        if host not in self.hosts:
            return _problem(
                421,
                "unknown host",
                f"this server does not answer to {host[:80]}",
                "open it by the address that it printed",
            )
        origin = headers.get("origin")
        if origin and origin != "null" and _hostname(urlsplit(origin).netloc) not in self.hosts:
            return _problem(
                403,
                "foreign page",
                "this page may not use this server",
                "open the app by the address that it printed",
            )
        if self.key is None:
            return None
        offered = parse_qs(scope["query_string"].decode("latin-1")).get("key", [""])[0]
        if offered and hmac.compare_digest(offered, self.key):
            response = RedirectResponse(scope["path"], status_code=303)
            response.set_cookie(COOKIE, self.key, httponly=True, samesite="strict")
            return response
        cookie = SimpleCookie(headers.get("cookie", "")).get(COOKIE)
        bearer = headers.get("authorization", "").removeprefix("Bearer ")
        if (cookie and hmac.compare_digest(cookie.value, self.key)) or hmac.compare_digest(bearer, self.key):
            return None
        return _problem(
            401,
            "key needed",
            "this server asks for its access key",
            "open it by the address, with key, that it printed",
        )


def _hostname(netloc: str) -> str:
    """A host header without its port."""
    if netloc.startswith("["):
        return netloc.partition("]")[0] + "]"
    return netloc.rpartition(":")[0] if ":" in netloc else netloc


def _limited(receive: Receive, most: int) -> Receive:
    """Counts what comes without a length and hangs up past the limit."""
    seen = 0

    async def counted() -> Message:
        nonlocal seen
        message = await receive()
        seen += len(message.get("body", b""))
        return {"type": "http.disconnect"} if seen > most else message

    return counted


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
