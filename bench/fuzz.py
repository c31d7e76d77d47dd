"""Requests of every kind, ordinary and hostile, on existing ids: none returns a 5xx status or a body that differs from its schema.

`python -m bench fuzz [SEED]` sends 20,000; the tests send 2,000 with a seed that differs from run to run. Between them every game
is read from the file again and must equal the one in memory, and its backup is restored as a second copy and must equal it.
"""

from __future__ import annotations

import copy
import io
import json
import random
import shutil
import tempfile
import time
import zipfile
from collections import Counter
from collections.abc import Callable
from pathlib import Path
from typing import Any

REQUESTS = 20_000
LOOK_EVERY, RESTORE_EVERY, IDS_EVERY = 100, 400, 60
HERE = "http://127.0.0.1"
LEFT_OUT = {
    ("get", "/api/games/{game_id}/events"),  # never ends
    ("post", "/api/games/{game_id}/output/print"),  # these three begin processes
    ("post", "/api/games/{game_id}/output/sheets"),
    ("post", "/api/games/{game_id}/output/pictures"),
    ("post", "/api/games/{game_id}/output/jobs/{job_id}/again"),
}
NOT_OF_IT = ("/samples/remove", "/stop", "/stop/{kind}", "/undo", "/redo", "/copy", "/rules/parts/{part}/look")
"""What ends things, or is no question about a game as it is."""
TEXTS = [
    "", " ", "x", "0", "-1", "²", "1e308", "NaN", "null", "true", "☘", "👩‍🌾", "مرحبا", "Z̷a̷l̷g̷o̷", "a\u0000b", "\ud800", "\u2028", "\ufeff", "﷽" * 40,
    "../../etc/passwd", "%00", "'; DROP TABLE card; --", "=1+1", "<svg onload=alert(1)>", "{", "]", '"', "\\", "/", "card/", "types/", "x" * 90, "y" * 3_000,
    "upon play this: draw 1", "upon play this: draw", "always: raise height of all own plant by 1", "cost >= 3", "cost >=", "((((((((((", "not " * 300 + "x",
    "C-{n:03}", "{n", "{n:999999999}", "#cost + 1", "#name * 2", "1-5, RS-", "9" * 40, "\t\n\r", '{"name": "\\ud800", "cards": ["x", "\\udc00"]}', "_xD800_", "1,5", "2.5", "12345678901234567890",
]  # fmt: skip
NUMBERS = [
    0, 1, -1, 2, 7, 60, 255, 10**6, 2**31, 2**53, 2**53 + 1, 2**63 - 1, 2**63, -(2**63) - 1, 10**30, 0.5, -0.0, 1e-9, 1e308, -1e308, float("nan"), float("inf"),
]  # fmt: skip
FILES = Path(__file__).resolve().parent.parent / "tests" / "samples"


class InvalidInput(AssertionError):
    """A request that was answered as none may be. Tells the seed and the number of the request."""


class Fuzz:
    """Requests drawn by a seed, each of which is answered within `seconds`. `sent` counts the answers by status."""

    def __init__(self, client: Any, document: dict[str, Any], db: Path, seed: int, seconds: float) -> None:
        self.client, self.document, self.db, self.seed, self.seconds = client, document, db, seed, seconds
        self.chance = random.Random(seed)
        self.sent: Counter[int] = Counter()
        self.ids: dict[str, list[str]] = {}
        self.keys: list[str] = []
        self.archives: list[bytes] = []
        self.number = 0
        self.operations = [
            (method, path, operation)
            for path, methods in document["paths"].items()
            for method, operation in methods.items()
            if (method, path) not in LEFT_OUT
        ]
        self._validators: dict[int, Any] = {}

    def run(self, requests: int) -> None:
        """Raises Unsound at the first answer that may not be."""
        for self.number in range(requests):
            if self.number % IDS_EVERY == 0:
                self.look_for_ids()
            self.one()
            if self.number % LOOK_EVERY == LOOK_EVERY - 1:
                self.file_and_memory_agree()
            if self.number % RESTORE_EVERY == RESTORE_EVERY - 1:
                self.backup_restores()

    def one(self) -> None:
        method, path, operation = self.chance.choice(self.operations)
        if method == "delete" and self.chance.random() < 0.6:
            return
        asked: dict[str, Any] = {"headers": self.headers(), "params": {}}
        url = self.address(path, operation, self.parameter)
        for each in operation.get("parameters", ()):
            if each["in"] == "query" and self.chance.random() < 0.6:
                asked["params"][each["name"]] = self.plain(self.parameter(each))
        content = operation.get("requestBody", {}).get("content", {})
        if "application/json" in content:
            asked["content"] = self.json_text(self.body(content["application/json"]["schema"]))
            asked["headers"]["content-type"] = "application/json"
        elif "multipart/form-data" in content:
            asked |= self.form(path)
        self.ask(method, url, path, operation, asked)

    def ask(self, method: str, url: str, path: str, operation: Any, asked: dict[str, Any]) -> None:
        told = f"seed {self.seed}, request {self.number}: {method} {url[:300]} {str(asked)[:1500]}"
        began = time.perf_counter()
        try:
            answer = self.client.request(method.upper(), url, **asked)
        except Exception as error:
            raise InvalidInput(f"{told}\n{type(error).__name__}: {error}") from error
        took = time.perf_counter() - began
        self.sent[answer.status_code] += 1
        if answer.status_code >= 500:
            raise InvalidInput(f"{told}\n{answer.status_code} {answer.text[:1000]}")
        if took > self.seconds:
            raise InvalidInput(f"{told}\ntook {took:.1f} s")
        said = operation["responses"].get(str(answer.status_code))
        kind = answer.headers.get("content-type", "").partition(";")[0]
        if answer.status_code >= 400 and (kind != "application/problem+json" or not answer.json()["mend"]):
            raise InvalidInput(
                f"{told}\n{answer.status_code} is no problem with a mend: {kind} {answer.text[:300]}"
            )
        if said is None and answer.status_code != 304:
            raise InvalidInput(f"{told}\n{answer.status_code} is not in the API's document: {answer.text[:300]}")
        schema = (said or {}).get("content", {}).get(kind, {}).get("schema")
        if schema and answer.content:
            fault = next(self.validator(schema).iter_errors(answer.json()), None)
            if fault is not None:
                raise InvalidInput(f"{told}\noff its schema at {list(fault.absolute_path)}: {fault.message[:300]}")

    def validator(self, schema: dict[str, Any]) -> Any:
        from jsonschema import Draft202012Validator

        known = self._validators.get(id(schema))
        if known is None:
            whole = {**schema, "components": self.document["components"]}
            known = self._validators[id(schema)] = Draft202012Validator(whole)
        return known

    def every_answer(self, game: str) -> None:
        """Sends a plain request for each thing that can be read of a game, and each preview with its example. Raises Unsound."""
        for method, path, operation in self.chance.sample(self.operations, len(self.operations)):
            if method not in ("get", "post") or "{game_id}" not in path or path.endswith(NOT_OF_IT):
                continue
            self.look_for_ids(game)
            content = operation.get("requestBody", {}).get("content", {})
            asked: dict[str, Any] = {"headers": {"x-page": "one"}, "params": {}}
            for each in operation.get("parameters", ()):
                if each["in"] == "query" and each.get("required"):
                    asked["params"][each["name"]] = self.plain(self.parameter(each))
            if "application/json" in content:
                schema = content["application/json"]["schema"]
                examples = self.resolved(schema).get("examples")
                body = self.alive(copy.deepcopy(self.chance.choice(examples))) if examples else self.value(schema, 0)
                if isinstance(body, dict) and "games" in body:
                    body["games"] = 200
                asked["content"] = self.json_text(body)
                asked["headers"]["content-type"] = "application/json"
            elif content:
                continue
            self.ask(method, self.address(path, operation, self.live), path, operation, asked)

    def live(self, each: dict[str, Any]) -> Any:
        """A live id for a parameter, where there is one."""
        return self.chance.choice(self.ids.get(each["name"].removesuffix("_id")) or ["x"])

    def address(self, path: str, operation: Any, draw: Callable[[dict[str, Any]], Any]) -> str:
        for each in operation.get("parameters", ()):
            if each["in"] == "path":
                path = path.replace("{" + each["name"] + "}", self.quoted(draw(each)))
        return path

    def headers(self) -> dict[str, str]:
        found = {"x-page": self.chance.choice(["one", "two", "pictures", "demo", ""])}
        draw = self.chance.random()
        if draw < 0.5:
            self.keys.append(f"k{self.seed}-{self.number}")
            found["idempotency-key"] = self.keys[-1]
        elif draw < 0.55 and self.keys:
            found["idempotency-key"] = self.chance.choice(self.keys)
        elif draw < 0.58:
            found["idempotency-key"] = self.chance.choice(["", " ", "x" * 200, "a b"])
        if self.chance.random() < 0.05:
            found["if-none-match"] = self.chance.choice(['W/"ribbon-season-1"', "*", '"', ","])
        return found

    def text(self) -> str:
        if self.chance.random() < 0.15:
            return "".join(
                self.chance.choice("abcé☘ \n{}()[]#\"'/:;,.-0123\u0000")
                for _ in range(self.chance.randrange(40))
            )
        return self.chance.choice(TEXTS)

    def parameter(self, each: dict[str, Any]) -> Any:
        name = each["name"]
        if self.chance.random() < 0.12:
            return self.chance.choice([self.text(), *NUMBERS])
        kind = name.removesuffix("_id")
        if kind in self.ids and self.ids[kind]:
            return self.chance.choice(self.ids[kind])
        if name == "ids":
            return ",".join(self.chance.choices(self.ids["card"] or ["x"], k=self.chance.randrange(4)))
        if name in ("query", "text"):
            return self.chance.choice(["", "cost >= 2", "bed is Fern", "any fault", self.text()])
        if name in ("across", "down"):
            return self.chance.choice(self.ids["field"] or ["cost"])
        if name == "to":
            return self.chance.choice([*self.ids["type"], *self.ids["set"]])
        if name in ("format", "ending", "form"):
            return self.chance.choice(["csv", "xlsx", "json", "tsv", "png", "svg", "pdf", "md", "markdown"])
        return self.value(each.get("schema", {}), 3)

    def body(self, schema: dict[str, Any]) -> Any:
        found = self.resolved(schema)
        examples = found.get("examples")
        draw = self.chance.random()
        if draw < 0.05:
            return self.chance.choice(
                [None, [], {}, "x", 1, [[[[]]]], {"": {}}, deep(self.chance.choice([30, 59, 70, 400]))]
            )
        made = (
            copy.deepcopy(self.chance.choice(examples)) if examples and draw < 0.75 else self.value(schema, 0)
        )
        made = self.alive(made)
        for _ in range(self.chance.choice([0, 0, 1, 1, 2, 4])):
            made = self.mutated(made)
        return made

    def resolved(self, schema: dict[str, Any]) -> dict[str, Any]:
        while "$ref" in schema:
            schema = self.document["components"]["schemas"][schema["$ref"].rpartition("/")[2]]
        return schema

    def value(self, schema: dict[str, Any], depth: int) -> Any:
        schema = self.resolved(schema)
        for word in ("anyOf", "oneOf"):
            if word in schema:
                return self.value(self.chance.choice(schema[word]), depth)
        if "enum" in schema:
            return self.chance.choice(schema["enum"])
        if "const" in schema:
            return schema["const"]
        match schema.get("type"):
            case "object":
                required = schema.get("required", ())
                made = {
                    name: self.value(each, depth + 1)
                    for name, each in schema.get("properties", {}).items()
                    if name in required or self.chance.random() < 0.4
                }
                rest = schema.get("additionalProperties")
                if isinstance(rest, dict) and rest and depth < 4:
                    made |= {
                        self.name(): self.value(rest, depth + 1) for _ in range(self.chance.randrange(3))
                    }
                return made
            case "array":
                return [
                    self.value(schema.get("items", {}), depth + 1) for _ in range(self.chance.randrange(3))
                ]
            case "string":
                return self.name() if self.chance.random() < 0.6 else self.text()
            case "integer":
                return self.chance.choice([0, 1, 2, 3, 5, *NUMBERS[:8]])
            case "number":
                return self.chance.choice([0, 1, 2.5, 60, 10**6])
            case "boolean":
                return self.chance.random() < 0.5
            case "null":
                return None
            case _:
                return self.chance.choice([self.text(), 1, None, [], {"a": [1]}])

    def name(self) -> str:
        """A live id of any kind."""
        pool = self.chance.choice([each for each in self.ids.values() if each] or [["x"]])
        return self.chance.choice(pool)

    def alive(self, made: Any) -> Any:
        """Ids of examples replaced by such as are there."""
        if isinstance(made, dict):
            for key, each in made.items():
                kind = {"cards": "card", "fields": "field"}.get(key, key)
                if (
                    kind in self.ids
                    and self.ids[kind]
                    and isinstance(each, str)
                    and self.chance.random() < 0.8
                ):
                    made[key] = self.chance.choice(self.ids[kind])
                elif (
                    kind in self.ids and isinstance(each, list) and all(isinstance(one, str) for one in each)
                ):
                    made[key] = self.chance.choices(self.ids[kind] or ["x"], k=max(1, len(each)))
                else:
                    made[key] = self.alive(each)
            if "base" in made:
                made["base"] = self.chance.choice([0, 1, 10**6, 10**6, 10**6])
        elif isinstance(made, list):
            made = [self.alive(each) for each in made]
        return made

    def mutated(self, made: Any) -> Any:
        """One place of a document is made otherwise."""
        if isinstance(made, dict) and made and self.chance.random() < 0.85:
            key = self.chance.choice(list(made))
            draw = self.chance.random()
            if draw < 0.1:
                del made[key]
            elif draw < 0.2:
                made[self.text()] = made[key]
            else:
                made[key] = self.mutated(made[key])
            return made
        if isinstance(made, list) and made and self.chance.random() < 0.8:
            place = self.chance.randrange(len(made))
            if self.chance.random() < 0.3:
                return made + made[place : place + 1] * self.chance.choice([1, 3, 50])
            made[place] = self.mutated(made[place])
            return made
        return self.chance.choice(
            [self.text(), self.text(), self.name(), *self.chance.sample(NUMBERS, 3), None, [], {}, True]
        )

    def form(self, path: str) -> dict[str, Any]:
        data = {}
        if self.chance.random() < 0.7:
            wishes = self.chance.choice(
                [{}, {"match": "code"}, {"match": "name", "make": {"values": {}}}, {"header": 3}]
            )
            data["wishes"] = self.json_text(self.mutated(wishes) if self.chance.random() < 0.3 else wishes)
        if self.chance.random() < 0.3:
            data["name"] = self.text().encode("utf-8", "replace").decode()
        return {
            "files": {"file": (self.chance.choice(["a.csv", "b.xlsx", "☘.png", "x", ".."]), self.file(path))},
            "data": data,
        }

    def file(self, path: str) -> bytes:
        draw = self.chance.random()
        if draw < 0.1:
            return self.chance.choice(
                [b"", b"\xef\xbb\xbf", b"\x00" * 50, b"PK\x03\x04", b"\xff\xfe", b"<svg", bytes(range(256))]
            )
        if "archives" in path and self.archives:
            data = self.chance.choice(self.archives)
            return data if draw < 0.3 else mutated_archive(data, self.chance)
        if "pictures" in path:
            return self.picture()
        sheet = (FILES / self.chance.choice(["draft-sheet.csv", "two-faced.tsv", "tiles.xlsx"])).read_bytes()
        if draw < 0.4:
            return sheet
        if draw < 0.6:
            return (
                f"Code,Name,Cost,Effect\nRS-001,{self.text()},2,\nRS-0{self.number},x,{self.text()},draw\n"
            ).encode("utf-8", "replace")
        return flipped(sheet, self.chance)

    def picture(self) -> bytes:
        from PIL import Image

        draw = self.chance.random()
        if draw < 0.4:
            out = io.BytesIO()
            Image.new("RGB", (self.chance.choice([1, 8, 40]), 8), (self.number % 256, 80, 90)).save(
                out, self.chance.choice(["PNG", "JPEG", "GIF"])
            )
            return out.getvalue() if draw < 0.3 else flipped(out.getvalue(), self.chance)
        return f'<svg xmlns="http://www.w3.org/2000/svg" width="{self.chance.choice(["9", "0", "1e9", "-1"])}" height="9"><rect width="{self.number}" height="5"/></svg>'.encode()

    @staticmethod
    def json_text(document: Any) -> str:
        return json.dumps(document)

    @staticmethod
    def plain(value: Any) -> str:
        return str(value).encode("utf-8", "replace").decode()

    def quoted(self, value: Any) -> str:
        from urllib.parse import quote

        return quote(self.plain(value), safe="") or "%20"

    def look_for_ids(self, of: str | None = None) -> None:
        """Ids of a game, or of any."""
        from dramok.services import Damaged

        workspace = self.client.app.state.workspace
        games = [each for each in workspace.shelf() if not isinstance(each, Damaged)]
        if len(games) < 3 or len(games) != len(workspace.store.games()):
            raise InvalidInput(f"seed {self.seed}, request {self.number}: a game is damaged: {workspace.shelf()}")
        game = workspace.game(of) if of else self.chance.choice(games)
        sample = self.chance.sample
        self.ids = {
            "game": [game.id],
            "card": sample(list(game.cards), min(6, len(game.cards))),
            "deck": list(game.decks),
            "set": [each.id for each in game.sets],
            "type": [each.id for each in game.rulebook.cards.types],
            "list": [each.id for each in game.rulebook.cards.lists],
            "field": [each.id for each in game.rulebook.cards.fields],
            "playtest": [each.id for each in workspace.store.playtests(game.id)],
            "seq": [str(game.seq), str(max(0, game.seq - 3)), "1"],
            "sha": [str(each.doc["sha"]) for each in game.of_kind("picture")],
        }
        for kind in ("view", "mark", "note", "source", "layout", "plan", "run"):
            self.ids[kind] = [each.id for each in game.of_kind(kind)]

    def file_and_memory_agree(self) -> None:
        """Every game, read again from the file, equals the one the server holds."""
        from dramok.services import open_workspace

        fresh = open_workspace(self.db)
        try:
            for game in self.client.app.state.workspace.games():
                if whole(fresh.game(game.id)) != whole(game):
                    raise InvalidInput(
                        f"seed {self.seed}, request {self.number}: {game.id} in memory is not what the file holds"
                    )
        finally:
            fresh.close()

    def backup_restores(self) -> None:
        """The backup of a game is restored in a database of its own, and equals it."""
        from dramok.services import Refused, open_workspace
        from dramok.services.files.archive import archive, restore_game

        workspace = self.client.app.state.workspace
        game = self.chance.choice(workspace.games())
        data = archive(workspace, game)
        self.archives = [*self.archives[-5:], data]
        with tempfile.TemporaryDirectory() as folder:
            other = open_workspace(Path(folder) / "other.db", demo=False)
            try:
                restored = restore_game(other, data)
            except Refused as error:
                raise InvalidInput(
                    f"seed {self.seed}, request {self.number}: its backup is refused: {error}"
                ) from error
            finally:
                other.close()
            if whole(restored) != whole(game):
                raise InvalidInput(
                    f"seed {self.seed}, request {self.number}: {game.id} restored is not what it was"
                )


def whole(game: Any) -> tuple[Any, ...]:
    """All that a game holds, in a form that can be compared."""
    return (
        game.rulebook.model_copy(update={"name": ""}),
        {each.id: (each.code, each.type, each.set, dict(each.values)) for each in game.cards.values()},
        {each.id: (each.name, dict(each.cards)) for each in game.decks.values()},
        {
            each.id: {key: value for key, value in each.doc.items() if key != "seq"}
            for each in game.things.values()
        },
        {each.id: each.document for each in game.sets},
    )


def deep(levels: int) -> Any:
    found: Any = 1
    for _ in range(levels):
        found = {"a": found}
    return found


def flipped(data: bytes, chance: random.Random) -> bytes:
    """Some bytes otherwise, or the end cut off."""
    if chance.random() < 0.3:
        return data[: chance.randrange(len(data) + 1)]
    changed = bytearray(data)
    for _ in range(chance.randrange(1, 30)):
        changed[chance.randrange(len(changed))] = chance.randrange(256)
    return bytes(changed)


def mutated_archive(data: bytes, chance: random.Random) -> bytes:
    """An archive in which a document is otherwise at one place, or bytes are."""
    if chance.random() < 0.2:
        return flipped(data, chance)
    fuzz = Fuzz.__new__(Fuzz)
    fuzz.chance, fuzz.number, fuzz.ids = chance, 0, {"card": ["c-x"], "type": ["tool"]}
    out = io.BytesIO()
    with (
        zipfile.ZipFile(io.BytesIO(data)) as source,
        zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as target,
    ):
        names = [name for name in source.namelist() if name.endswith((".json", ".jsonl"))]
        bad = chance.choice(names)
        for name in source.namelist():
            held = source.read(name)
            if name == bad:
                lines = held.decode().splitlines() if name.endswith(".jsonl") else [held.decode()]
                place = chance.randrange(len(lines))
                lines[place] = json.dumps(fuzz.mutated(json.loads(lines[place])))
                held = "\n".join(lines).encode()
            target.writestr(name, held)
    return out.getvalue()


def fuzzed(requests: int, seed: int, seconds: float = 20) -> Counter[int]:
    """Sends requests to a server over a database of its own; gives how often each status was answered. Raises Unsound.

    None may take more than `seconds`: on a machine that does something else besides, it may take many times what it takes alone.
    """
    from fastapi.testclient import TestClient

    from dramok.server import create_app
    from dramok.server.routes import measure
    from dramok.services import open_workspace

    folder = Path(tempfile.mkdtemp())
    try:
        db = folder / "own.db"
        workspace = open_workspace(db)
        app = create_app(workspace)
        fuzz = Fuzz(TestClient(app, base_url=HERE), app.openapi(), db, seed, seconds)
        try:
            fuzz.run(requests)
        finally:
            # What was begun to be measured would go on for minutes.
            measure.close(app)
        workspace.close()
        return fuzz.sent
    finally:
        shutil.rmtree(folder, ignore_errors=True)


def run(requests: int = REQUESTS) -> None:
    seed = random.randrange(10**9)
    print(f"fuzz: {requests:,} requests with seed {seed}")
    began = time.perf_counter()
    sent = fuzzed(requests, seed)
    said = ", ".join(f"{status}: {count:,}" for status, count in sorted(sent.items()))
    print(
        f"fuzz: no 5xx, no body off its schema, no game damaged ({said}; {time.perf_counter() - began:.0f} s)"
    )
