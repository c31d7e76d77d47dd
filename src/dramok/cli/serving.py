"""Start the server."""

from __future__ import annotations

import contextlib
import gc
import json
import secrets
import socket
from typing import Annotated

import typer

from dramok.cli.context import (
    DEFAULT_DB,
    ClusterOption,
    DbOption,
    HostOption,
    JsonOption,
    app,
    fail,
    open_games,
)
from dramok.services import Workspace


@app.command()
def demo(
    db: DbOption = DEFAULT_DB,
    host: HostOption = "127.0.0.1",
    port: Annotated[int, typer.Option(help="The port; the next free one when it is taken.")] = 8000,
    only_fill: Annotated[
        bool, typer.Option("--fill", help="Only put the demo games into the database.")
    ] = False,
    cluster: ClusterOption = "",
    as_json: JsonOption = False,
) -> None:
    """Starts the app with the demo games, such as Ribbon Season."""
    with open_games(db, as_json, begins=True) as workspace:
        from dramok.services.games.demo_world import fill

        added = fill(workspace)
        if only_fill:
            if as_json:
                typer.echo(json.dumps({"added": added}))
            else:
                typer.echo(f"Added: {', '.join(added)}." if added else "The demo games are there already.")
            return
        _serve(workspace, host, _free_port(host, port), as_json, cluster)


@app.command()
def serve(
    db: DbOption = DEFAULT_DB,
    host: HostOption = "127.0.0.1",
    port: Annotated[int, typer.Option(help="The port.")] = 8000,
    cluster: ClusterOption = "",
    as_json: JsonOption = False,
) -> None:
    """Starts the app with a database of your own; the file is created if it does not exist."""
    with open_games(db, as_json, begins=True) as workspace:
        if _free_port(host, port, tries=1) != port:
            fail(
                {"what": f"port {port} is taken", "mend": f"choose another, such as --port {port + 1}"},
                as_json,
            )
        _serve(workspace, host, port, as_json, cluster)


def _free_port(host: str, port: int, tries: int = 20) -> int:
    for number in range(port, port + tries):
        with socket.socket(socket.AF_INET6 if ":" in host else socket.AF_INET) as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind((host, number))
            except OSError:
                continue
            return number
    return -1


def _serve(workspace: Workspace, host: str, port: int, as_json: bool, cluster: str) -> None:
    import uvicorn

    from dramok.server import create_app
    from dramok.server.security import LOOPBACK

    if port < 0:
        fail({"what": "no free port was found", "mend": "choose one with --port"}, as_json)
    key = None if host in LOOPBACK else secrets.token_urlsafe(18)
    shown = "127.0.0.1" if host in ("0.0.0.0", "::") else host  # noqa: S104
    shown = f"[{shown}]" if ":" in shown else shown
    names = set(LOOPBACK) | {host, shown, socket.gethostname()} | set(_addresses() if key else ())
    url = f"http://{shown}:{port}/" + (f"?key={key}" if key else "")
    # A large game has tens of thousands of long-lived objects: the default garbage collection stops the
    # server for half a second each time.
    gc.set_threshold(50_000, 20, 100)
    config = uvicorn.Config(
        create_app(workspace, frozenset(names), key, cluster),
        host=host,
        port=port,
        log_level="warning",
        ws="none",
        timeout_graceful_shutdown=1,
    )

    class Server(uvicorn.Server):
        async def startup(self, sockets: list[socket.socket] | None = None) -> None:
            """Print the address once the server accepts connections, so that a person or a script can use it at once."""
            await super().startup(sockets)
            if self.started:
                _print_address(url, key, as_json)

    server = Server(config)
    with contextlib.suppress(KeyboardInterrupt):
        server.run()
    if not server.started:
        raise typer.Exit(3)


def _print_address(url: str, key: str | None, as_json: bool) -> None:
    if as_json:
        typer.echo(json.dumps({"url": url, "key": key}))
    else:
        typer.echo(f"Dramok is at {url}\nStop it with Ctrl+C; everything is already saved.")


def _addresses() -> list[str]:
    """The addresses by which other machines know this one."""
    try:
        found = [str(each[4][0]).partition("%")[0] for each in socket.getaddrinfo(socket.gethostname(), None)]
        return [f"[{each}]" if ":" in each else each for each in found]
    except OSError:
        return []
