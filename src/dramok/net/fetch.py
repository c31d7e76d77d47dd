"""Fetch a table from an http(s) address or a file, within limits of size and time.

Protection of private addresses: names are resolved here, every resolved address is checked, and the connection
uses exactly the checked address; this repeats after each redirect.
"""

from __future__ import annotations

import contextlib
import http.client
import ipaddress
import os
import socket
import ssl
import stat
import threading
import time
from collections.abc import Collection
from pathlib import Path
from urllib.parse import SplitResult, quote, urljoin, urlsplit

from dramok.core.problem import Problem

MOST_BYTES = 20 * 1024 * 1024
MOST_SECONDS = 20.0
MOST_REDIRECTS = 5
ENDINGS = (".csv", ".tsv", ".txt", ".tab", ".xlsx", ".json")
_PIECE = 64 * 1024


class NotFetched(ValueError):
    """The address or file returned no table. `problem` has the reason and the fix."""

    def __init__(self, what: str, mend: str) -> None:
        super().__init__(what)
        self.problem = Problem(where="address", what=what, mend=mend)


def fetch(
    url: str, allowed: Collection[str] = (), most_bytes: int = MOST_BYTES, most_seconds: float = MOST_SECONDS
) -> bytes:
    """Fetch an address. `allowed` are hosts (`host` or `host:port`) that may be private. Raises NotFetched."""
    until = time.monotonic() + most_seconds
    for _ in range(MOST_REDIRECTS + 1):
        answer = _ask(url, allowed, until, most_bytes)
        if isinstance(answer, bytes):
            return answer
        url = _joined(url, answer)
    raise NotFetched(
        f"it sends on more than {MOST_REDIRECTS} times", "use the address at which the table ends up"
    )


def parts_of(url: str) -> SplitResult:
    """The parts of an address. Raises NotFetched for an invalid one."""
    try:
        return urlsplit(url)
    except ValueError as error:
        raise NotFetched(f"{url[:120]} is not an address", "look for a mistake in it, such as a bracket") from error


def _joined(url: str, answer: str) -> str:
    """The target of a redirect."""
    try:
        return urljoin(url, answer)
    except ValueError as error:
        raise NotFetched(f"it redirects to {answer[:120]}, which is not an address", "use the address at which the table ends up") from error


def _checked(url: str) -> tuple[SplitResult, str, int]:
    """The parts of an address, its host and port. Raises NotFetched if it is not a plain http or https address."""
    parts = parts_of(url)
    if parts.scheme not in ("http", "https") or not parts.hostname:
        raise NotFetched(f"{url[:120]} is not an http or https address", "write one that starts with https://")
    if parts.username or parts.password:
        raise NotFetched("the address holds a name or a password", "remove it; publish the sheet without")
    try:
        return parts, parts.hostname, parts.port or (443 if parts.scheme == "https" else 80)
    except ValueError as error:
        raise NotFetched(
            "its port is not a number", "write an address such as https://example.org/sheet.csv"
        ) from error


def _ask(url: str, allowed: Collection[str], until: float, most_bytes: int) -> bytes | str:
    """The bytes of an answer, or the redirect target."""
    parts, host, port = _checked(url)
    address = _address(host, port, allowed)
    connection = _Pinned(host, port, address, parts.scheme == "https", _left(until))
    # A socket timeout restarts with each byte received; this deadline does not.
    watch = threading.Timer(_left(until), connection.cut)
    watch.daemon = True
    watch.start()
    path = (parts.path or "/") + (f"?{parts.query}" if parts.query else "")
    # Addresses copied from a browser can contain letters and blanks that requests can't; existing escapes stay.
    path = quote(path, safe="/?%:@!$&'()*+,;=~")
    try:
        connection.request(
            "GET",
            path,
            headers={
                "User-Agent": "Dramok",
                "Accept": "text/csv, text/*, application/json, */*",
                "Accept-Encoding": "identity",
            },
        )
        response = connection.getresponse()
        if response.status in (301, 302, 303, 307, 308):
            return response.getheader("Location") or ""
        if response.status in (401, 403):
            raise NotFetched(
                f"{host} does not let us see it ({response.status})",
                "publish the sheet, so that its address can be read without signing in",
            )
        if response.status != 200:
            raise NotFetched(
                f"{host} answers {response.status} {response.reason[:60]}",
                "open the address in a browser to see whether it is right",
            )
        data = _body(response, connection, until, most_bytes)
    except (TimeoutError, ssl.SSLError, OSError, http.client.HTTPException, ValueError) as error:
        if isinstance(error, NotFetched):
            raise
        if isinstance(error, TimeoutError) or time.monotonic() >= until:
            raise NotFetched(f"{host} took too long", "try again later, or use a smaller table") from error
        raise NotFetched(
            f"{host} can't be read ({str(error)[:80] or type(error).__name__})", "try again later"
        ) from error
    finally:
        watch.cancel()
        connection.close()
    kind = (response.getheader("Content-Type") or "").lower()
    start = data[:400].lstrip(b"\xef\xbb\xbf \t\r\n").lower()
    if "html" in kind or start.startswith((b"<!doctype html", b"<html")):
        raise NotFetched(
            f"{host} answers a web page, not a table", "publish the sheet as CSV and use the address of that"
        )
    return data


def _body(response: http.client.HTTPResponse, connection: _Pinned, until: float, most_bytes: int) -> bytes:
    said = response.getheader("Content-Length")
    if said and said.isdigit() and int(said) > most_bytes:
        raise NotFetched(
            f"the table has {int(said) // 1048576} MB; {most_bytes // 1048576} MB are the most",
            "use a smaller one",
        )
    pieces: list[bytes] = []
    size = 0
    while True:
        connection.wait_at_most(_left(until))
        piece = response.read1(_PIECE)
        if not piece:
            return b"".join(pieces)
        pieces.append(piece)
        size += len(piece)
        if size > most_bytes:
            raise NotFetched(f"it gives more than {most_bytes // 1048576} MB", "use a smaller table")


def _left(until: float) -> float:
    left = until - time.monotonic()
    if left <= 0:
        raise NotFetched("it took too long", "try again later, or use a smaller table")
    return left


def _address(host: str, port: int, allowed: Collection[str]) -> str:
    """An allowed address of a host."""
    try:
        found = [str(each[4][0]) for each in socket.getaddrinfo(host, port, type=socket.SOCK_STREAM)]
    except (OSError, UnicodeError) as error:
        raise NotFetched(f"there is no host {host[:80]}", "look for a mistake in the address") from error
    if host in allowed or f"{host}:{port}" in allowed:
        return found[0]
    for each in found:
        if any(not address.is_global or address.is_multicast for address in meant_by(each)):
            raise NotFetched(
                f"{host[:80]} is a private address of this machine or network",
                "allow this host in the game's settings for followed tables, if you trust it",
            )
    return found[0]


Address = ipaddress.IPv4Address | ipaddress.IPv6Address
_HIDING = tuple(
    ipaddress.ip_network(each) for each in ("64:ff9b::/96", "64:ff9b:1::/48", "::/96", "::ffff:0:0:0/96")
)
"""Networks whose addresses contain an IPv4 address in their last 32 bits."""


def meant_by(text: str) -> list[Address]:
    """An address, with the IPv4 addresses embedded in it: mapped, translated (NAT64), tunnelled (6to4, Teredo),
    ISATAP.
    """
    address = ipaddress.ip_address(text.partition("%")[0])
    if isinstance(address, ipaddress.IPv4Address):
        return [address]
    if address.ipv4_mapped is not None:
        return [address.ipv4_mapped]
    found: list[Address] = [address]
    if address.sixtofour is not None:
        found.append(address.sixtofour)
    if address.teredo is not None:
        found += address.teredo
    last = ipaddress.IPv4Address(int(address) & 0xFFFFFFFF)
    isatap = (int(address) >> 32) & 0xFDFFFFFF == 0x00005EFE
    if isatap or any(address in network for network in _HIDING):
        found.append(last)
    return found


class _Pinned(http.client.HTTPConnection):
    """A connection to a checked address under the name of its host."""

    def __init__(self, host: str, port: int, address: str, secure: bool, seconds: float) -> None:
        super().__init__(host, port, timeout=seconds)
        self._address, self._secure = address, secure

    def connect(self) -> None:
        self.sock = socket.create_connection((self._address, self.port), self.timeout)
        if self._secure:
            self.sock = ssl.create_default_context().wrap_socket(self.sock, server_hostname=self.host)

    def cut(self) -> None:
        """End the connection from another thread."""
        if self.sock is not None:
            with contextlib.suppress(OSError):
                self.sock.shutdown(socket.SHUT_RDWR)

    def wait_at_most(self, seconds: float) -> None:
        if self.sock is not None:
            self.sock.settimeout(max(0.05, seconds))


def read_file(path: str, most_bytes: int = MOST_BYTES) -> bytes:
    """Read a table file on this machine: a regular file with a table file extension. Raises NotFetched.

    A link is followed only to such a file in the same folder.
    """
    try:
        place = Path(path).expanduser()
    except RuntimeError as error:
        raise NotFetched("there is no such person on this computer", "write the file's whole path, from the root") from error
    if place.suffix.lower() not in ENDINGS:
        raise NotFetched(f"{place.name[:80]} is not a table", f"choose a file that ends in {', '.join(ENDINGS)}")
    if not place.is_absolute():
        raise NotFetched(
            "the file needs its whole path", "write it from the root, such as /home/me/cards.csv"
        )
    try:
        real = place.resolve(strict=True)
        if real.parent != place.parent.resolve() or real.suffix.lower() not in ENDINGS:
            raise NotFetched(f"{place.name[:80]} is a link that leads elsewhere", "choose the file itself")
        handle = os.open(real, os.O_RDONLY | getattr(os, "O_NONBLOCK", 0) | getattr(os, "O_NOFOLLOW", 0))
        with os.fdopen(handle, "rb") as file:
            facts = os.fstat(file.fileno())
            if not stat.S_ISREG(facts.st_mode):
                raise NotFetched(f"{place.name[:80]} is not a plain file", "choose another")
            if facts.st_size > most_bytes:
                raise NotFetched(
                    f"the file has {facts.st_size // 1048576} MB; {most_bytes // 1048576} MB are the most",
                    "use a smaller one",
                )
            return file.read(most_bytes + 1)
    except (OSError, ValueError, RuntimeError) as error:
        if isinstance(error, NotFetched):
            raise
        raise NotFetched(
            f"{place.name[:80]} can't be read: {getattr(error, 'strerror', None) or error}",
            "look for a mistake in the path",
        ) from error
