"""Access control: origins, hosts, keys, bodies, uploads, addresses, links, metadata."""

from __future__ import annotations

import io
import json
import os
import struct
import threading
import zipfile
from types import SimpleNamespace

import pytest
from fastapi.testclient import TestClient
from PIL import Image

from dramok.core.cards import CardType, DerivedField, NumberField, Schema
from dramok.core.cards.values.derived import derived_values
from dramok.formats import svg_raster
from dramok.formats.metadata_removal import stripped
from dramok.formats.pictures import NoPicture, read_picture
from dramok.formats.svg_sanitizer import cleaned
from dramok.formats.tables import UnreadableFile, read_table
from dramok.formats.workbooks import read_sheet, write_sheet
from dramok.net.fetch import NotFetched, meant_by, read_file
from dramok.server import create_app
from dramok.services import FileDamaged, open_workspace
from dramok.services.cards.cells import CellEdit, write_cells
from dramok.services.faces.pictures import add_pictures
from dramok.services.files.archive import archive, restore_game
from tests.conftest import A_BUSY_MACHINES, GAME

HERE = "http://127.0.0.1"
DECK = {"name": "A deck"}


@pytest.fixture
def client(workspace):
    return TestClient(create_app(workspace), base_url=HERE, follow_redirects=False)


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ({}, 201),
        ({"origin": "http://127.0.0.1"}, 201),
        ({"origin": "null"}, 403),
        ({"origin": "http://evil.example"}, 403),
        ({"origin": "http://127.0.0.1:9999"}, 403),
        ({"origin": "http://127.0.0.1.evil.example"}, 403),
        ({"origin": "http://["}, 403),
        ({"origin": "file://"}, 403),
        ({"origin": "http://127.0.0.1/x"}, 403),
        ({"sec-fetch-site": "cross-site"}, 403),
        ({"sec-fetch-site": "same-origin"}, 201),
    ],
)
def test_writes_come_from_the_servers_own_page_or_from_none(client, headers, status):
    answer = client.post(f"/api/games/{GAME}/decks", json=DECK, headers=headers)
    assert answer.status_code == status, answer.text
    if status == 403:
        assert answer.json()["title"] == "foreign page" and answer.json()["mend"]


@pytest.mark.parametrize("path", ["/", "/api/games", "/api/nowhere", f"/{GAME}/cards", "/api/art/zz"])
def test_every_answer_says_what_a_browser_may_do_with_it(client, path):
    headers = client.get(path).headers
    policy = dict(part.strip().split(" ", 1) for part in headers["content-security-policy"].split(";"))
    assert policy["script-src"] == "'self'" and policy["frame-ancestors"] == "'none'"
    assert policy["object-src"] == policy["base-uri"] == "'none'"
    assert (headers["x-content-type-options"], headers["referrer-policy"]) == ("nosniff", "no-referrer")


def test_the_page_holds_no_script_of_its_own(client):
    text = client.get("/").text
    for script in text.split("<script")[1:]:
        assert "src=" in script.split(">")[0] and script.split(">")[1].startswith("</script")


def test_the_key_leads_nowhere_else_and_may_be_of_any_letters(workspace):
    app = create_app(workspace, frozenset({"127.0.0.1"}), key="gärtner")
    client = TestClient(app, base_url=HERE, follow_redirects=False)
    assert client.get("/api/games").status_code == 401
    assert client.get("/api/games", headers={"authorization": b"Bearer \xff\xfe"}).status_code == 401
    assert client.get("/api/games", headers={"cookie": "dramok-key=\x01; ;;="}).status_code == 401
    answer = client.get(f"{HERE}//evil.example/?key=g%C3%A4rtner")
    assert answer.status_code == 303 and answer.headers["location"] == "/evil.example/"
    plain = TestClient(
        create_app(workspace, frozenset({"127.0.0.1"}), key="k"), base_url=HERE, follow_redirects=False
    )
    for path in ("//evil.example/", "/\\evil.example", "///x"):
        assert not plain.get(f"{HERE}{path}?key=k").headers.get("location", "/").startswith(("//", "/\\"))


def test_a_body_without_a_length_is_counted(client):
    def endless():
        for _ in range(40):
            yield b" " * 65_536

    answer = client.post(
        f"/api/games/{GAME}/decks", content=endless(), headers={"content-type": "application/json"}
    )
    assert answer.status_code == 413 and "more than 1 MB" in answer.json()["detail"]
    for length in ("-1", "²", "1e3", "9" * 40):
        odd = client.post(
            f"/api/games/{GAME}/decks", content=b"{}", headers={"content-length": length.encode()}
        )
        assert odd.status_code in (400, 413, 422), length


# Keys.


def test_a_key_writes_once_and_never_two_things(client):
    send = lambda body, key, path="decks": client.post(  # noqa: E731
        f"/api/games/{GAME}/{path}", json=body, headers={"idempotency-key": key}
    )
    one, again = send(DECK, "k1"), send(DECK, "k1")
    assert one.status_code == again.status_code == 201 and one.json()["made"] == again.json()["made"]
    assert (
        again.json()["seq"] == one.json()["seq"] and len(client.get(f"/api/games/{GAME}/decks").json()) == 4
    )
    other = send({"name": "Another"}, "k1")
    assert other.status_code == 422 and other.json()["title"] == "key used" and other.json()["mend"]
    card = {"type": "plant", "set": "first", "typed": {"name": "Late"}}
    assert send(card, "k1", "cards").status_code == 422, "another path is another request"
    for _ in range(2):
        made = send(card, "k2", "cards")
        assert made.status_code == 201 and len(made.json()["made"]) == 1 and made.json()["cards"]
    assert client.get(f"/api/games/{GAME}/cards").json()["total"] == 97


@pytest.mark.parametrize("key", ["", " ", "a b", "x" * 81, "ä"])
def test_a_key_that_is_none_is_refused(client, key):
    for _ in range(2):
        answer = client.post(
            f"/api/games/{GAME}/decks", json=DECK, headers={"idempotency-key": key.encode("latin-1")}
        )
        assert answer.status_code == 422, answer.text
    assert len(client.get(f"/api/games/{GAME}/decks").json()) == 3


def test_keys_of_imports_archives_pictures_playtests_and_undo(client, workspace):
    def twice(method, path, **asked):
        answers = [
            client.request(method, path, headers={"idempotency-key": path[-60:]}, **asked) for _ in range(2)
        ]
        assert [each.status_code for each in answers] in ([201, 201], [200, 200]), answers[1].text
        return [each.json() for each in answers]

    base = f"/api/games/{GAME}"
    sheet = b"Name,Type,Bed,Cost\nNew One,Plant,Fern,2\n"
    twice("POST", f"{base}/imports", files={"file": ("a.csv", sheet)})
    assert client.get(f"{base}/cards").json()["total"] == 97
    one, two = twice("POST", "/api/archives", files={"file": ("a.zip", archive(workspace, workspace.game(GAME)))})
    assert one["id"] == two["id"] and len(client.get("/api/games").json()) == 4
    twice("POST", f"{base}/pictures", files={"file": ("a.png", picture())})
    deck = next(iter(workspace.game(GAME).decks))
    one, two = twice("POST", f"{base}/playtests", json={"deck": deck, "seed": 3})
    assert one["id"] == two["id"] and len(client.get(f"{base}/playtests").json()) == 1
    step = {"do": "done", "card": -1, "taken": 0}
    one, two = twice("POST", f"{base}/playtests/{one['id']}/decisions", json=step)
    assert one["taken"] == two["taken"] >= 1
    one, two = twice("POST", f"{base}/undo")
    assert one["seq"] == two["seq"] and client.get(f"{base}/cards").json()["total"] == 96


# Uploads.


def picture(size: int = 8) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (size, size), (40, 90, 60)).save(out, "PNG")
    return out.getvalue()


def slow_svg(octaves: int = 100_000) -> bytes:
    return (
        '<svg xmlns="http://www.w3.org/2000/svg" width="900" height="900"><filter id="f"><feTurbulence '
        f'baseFrequency="0.05" numOctaves="{octaves}"/></filter><rect width="900" height="900" filter="url(#f)"/></svg>'
    ).encode()


def test_filters_are_held_to_what_can_be_seen():
    assert b'numOctaves="8"' in cleaned(slow_svg()) and b'numOctaves="3"' in cleaned(slow_svg(3))
    read = read_picture(slow_svg())
    assert (read.width, read.height) == (1100, 1100), "drawn, on a slow machine too"


def test_a_drawing_without_end_is_stopped(monkeypatch):
    monkeypatch.setattr(svg_raster, "MOST_SECONDS", 1)
    without_end = slow_svg().replace(b"100000", b"3000")
    with pytest.raises(svg_raster.NotDrawn, match="takes too much"):
        svg_raster.draw_svg(without_end, 1100)


def test_the_pictures_of_one_upload_have_one_budget(workspace, monkeypatch):
    passed = [0.0]

    def draw(workspace, data) -> str:
        passed[0] += 8.0
        return "a" * 64

    monkeypatch.setattr("dramok.services.faces.pictures.time", SimpleNamespace(monotonic=lambda: passed[0]))
    monkeypatch.setattr("dramok.services.faces.pictures.store_picture", draw)
    brought = add_pictures(workspace, GAME, [(f"{n}.png", b"") for n in range(6)])
    late = [each for each in brought if each.problem]
    assert [each.name for each in late] == ["3.png", "4.png", "5.png"], "those begun after 20 seconds"
    assert "took too long" in late[0].problem.what


def test_reads_do_not_wait_behind_uploads(client, monkeypatch):
    """Forty-five uploads at once, each of which takes until it is let go: a read is answered meanwhile."""
    let_go = threading.Event()
    monkeypatch.setattr(
        "dramok.services.faces.pictures.store_picture", lambda workspace, data: let_go.wait(A_BUSY_MACHINES) and "a" * 64
    )
    with client:
        sending = [
            threading.Thread(
                target=client.post,
                args=(f"/api/games/{GAME}/pictures",),
                kwargs={"files": {"file": ("a.png", b"x")}},
            )
            for _ in range(45)
        ]
        for each in sending:
            each.start()
        try:
            assert client.get(f"/api/games/{GAME}/cards").status_code == 200
            assert client.get("/api/games").status_code == 200 and not let_go.is_set()
        finally:
            let_go.set()
            for each in sending:
                each.join()


# Addresses and files.


@pytest.mark.parametrize(
    ("address", "hidden"),
    [
        ("64:ff9b::7f00:1", "127.0.0.1"),
        ("64:ff9b:1::a00:1", "10.0.0.1"),
        ("2002:7f00:1::", "127.0.0.1"),
        ("2002:c0a8:101::1", "192.168.1.1"),
        ("::ffff:10.1.2.3", "10.1.2.3"),
        ("::ffff:0:7f00:1", "127.0.0.1"),
        ("::127.0.0.1", "127.0.0.1"),
        ("2001:0:53aa:64c:0:fbff:f5ff:fffe", "10.0.0.1"),
        ("fe80::5efe:10.0.0.1", "10.0.0.1"),
        ("2606:4700::200:5efe:7f00:1", "127.0.0.1"),
    ],
)
def test_an_address_that_hides_another_is_checked_as_the_hidden_one(address, hidden):
    assert hidden in {str(each) for each in meant_by(address)}
    assert any(not each.is_global for each in meant_by(address))


def test_plain_addresses_are_what_they_are():
    for address in ("8.8.8.8", "2606:4700:4700::1111"):
        assert [str(each) for each in meant_by(address)] == [address] and meant_by(address)[0].is_global


def test_links_lead_out_of_no_folder(tmp_path):
    inside, outside = tmp_path / "sheets", tmp_path / "private"
    inside.mkdir(), outside.mkdir()
    (outside / "secret.csv").write_text("Name\nSecret\n")
    (inside / "own.csv").write_text("Name\nOwn\n")
    os.symlink(outside / "secret.csv", inside / "a.csv")
    os.symlink("/etc/hostname", inside / "b.csv")
    os.symlink(inside / "own.csv", inside / "c.csv")
    os.symlink(inside / "d.csv", inside / "d.csv")
    for name in ("a.csv", "b.csv", "d.csv"):
        with pytest.raises(NotFetched):
            read_file(str(inside / name))
    assert read_file(str(inside / "c.csv")) == read_file(str(inside / "own.csv")) == b"Name\nOwn\n"


# What pictures tell.


def photo(kind: str) -> bytes:
    image = Image.new("RGB", (30, 20), (200, 30, 40))
    exif = Image.Exif()
    exif[0x010F], exif[0x0112] = "A Camera", 6
    exif.get_ifd(0x8825)[2] = (52.0, 31.0, 12.0)
    out = io.BytesIO()
    image.save(out, kind, exif=exif)
    return out.getvalue()


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "WEBP"])
def test_a_shared_copy_does_not_tell_where_a_photo_was_taken(workspace, tmp_path, kind):
    data = photo(kind)
    assert Image.open(io.BytesIO(data)).getexif().get_ifd(0x8825), "it does tell before"
    (brought,) = add_pictures(workspace, GAME, [("a.jpg", data)])
    shared = zipfile.ZipFile(io.BytesIO(archive(workspace, workspace.game(GAME), shared=True)))
    (name,) = [each for each in shared.namelist() if each.startswith("pictures/")]
    clean = shared.read(name)
    found = Image.open(io.BytesIO(clean))
    assert not found.getexif().get_ifd(0x8825) and b"A Camera" not in clean
    turned = found.getexif().get(0x0112, 1)
    assert (found.size, turned) in (((30, 20), 6), ((20, 30), 1)), "it stands as it stood"
    backup = zipfile.ZipFile(io.BytesIO(archive(workspace, workspace.game(GAME))))
    assert (
        backup.read(
            f"pictures/{brought.sha}.{name.rpartition('.')[2]}"
            if kind != "WEBP" and kind != "TIFF"
            else next(each for each in backup.namelist() if brought.sha in each)
        )
        == data
    )


def test_cards_of_a_shared_copy_show_their_pictures(workspace, tmp_path):

    types = workspace.game(GAME).rulebook.cards
    field = next((each for each in types.fields if each.kind == "picture"), None)
    (brought,) = add_pictures(workspace, GAME, [("a.jpg", photo("JPEG"))])
    if field is not None:
        write_cells(
            workspace, GAME, [CellEdit(f"c-{GAME}-rs-001", field.id, brought.sha)], workspace.game(GAME).seq, "one"
        )
    other = open_workspace(tmp_path / "other.db", demo=False)
    game = restore_game(other, archive(workspace, workspace.game(GAME), shared=True))
    named = {str(each.doc["sha"]) for each in game.of_kind("picture")}
    named |= {str(card.values[field.id]) for card in game.cards.values() if field and field.id in card.values}
    assert named and brought.sha not in named
    assert all(other.store.art(sha) is not None for sha in named)
    other.close()


def test_stripping_changes_no_pixel_and_twice_is_once():
    for kind, media in (("JPEG", "image/jpeg"), ("PNG", "image/png")):
        data = photo(kind)
        once = stripped(data, media)
        assert stripped(once, media) == once
        both = [Image.open(io.BytesIO(each)).convert("RGB").tobytes() for each in (data, once)]
        if kind == "JPEG":
            assert both[0] == both[1]
    assert stripped(
        b"\xff\xd8\xff\xe0" + struct.pack(">H", 4) + b"xx\xff\xda" + b"scan\xff\xd9", "image/jpeg"
    ).endswith(b"\xff\xd9")
    with pytest.raises(NoPicture):
        read_picture(b"\xff\xd8 no picture")


# Tables.


def test_a_workbook_gives_back_every_character():
    cells = ["a\x07b", "bell _x0007_ as text", "line\rfeed", "a\nb", "_x", "=1+1", "☘ \x1f"]
    data = write_sheet("S", ["Name"], [[cell] for cell in cells])
    rows, *_ = read_sheet(data, None, 100, 10)
    assert [row[0] for row in rows[1:]] == cells


@pytest.mark.parametrize("data", [b"\xef\xbb\xbf", b"\xff\xfe", b" \n ,,\n", b"\xef\xbb\xbf\r\n"])
def test_a_sheet_of_nothing_is_said_to_be_empty(data):
    with pytest.raises(UnreadableFile, match="empty|not a table"):
        read_table(data)


def test_json_with_half_a_character_is_refused_plainly():
    with pytest.raises(UnreadableFile, match="JSON can't be read"):
        read_table(b'[{"Name": "\\ud800"}]')


# Formulas.


def levels(count: int) -> Schema:
    fields = [NumberField(id="n0", name="N0", most=9)]
    fields += [
        DerivedField(id=f"n{n}", name=f"N{n}", formula=f"#n{n - 1} + #n{n - 1} - #n{n - 1}") for n in range(1, count + 1)
    ]  # fmt: skip
    return Schema(types=(CardType(id="t", name="T", fields=tuple(fields)),))


def test_forty_levels_of_two_mentions_are_checked_and_worked_out():
    """Exponential in the number of levels before: twenty took 6.5 s, forty would take weeks."""
    from dramok.core.cards import Card

    values, problems = derived_values(Card("c", "C", "s", "t", {"n0": 4}), levels(40))
    assert not problems and values["n40"] == 4


def test_a_circle_of_formulas_is_named_wherever_it_is_met():
    fields = [NumberField(id="a", name="A")]
    fields += [DerivedField(id=one, name=one.upper(), formula=f"#a + #{other}") for one, other in (("x", "y"), ("y", "z"), ("z", "y"))]  # fmt: skip
    with pytest.raises(ValueError, match="circle: Y → Z → Y"):
        Schema(types=(CardType(id="t", name="T", fields=tuple(fields)),))


def test_fractions_do_not_grow_without_end():
    from dramok.core.cards import Card

    fields = [NumberField(id="n0", name="N0", most=9)]
    fields += [DerivedField(id=f"n{n}", name=f"N{n}", formula=f"#n{n - 1} * #n{n - 1} / 7 + 1 / 3") for n in range(1, 30)]  # fmt: skip
    schema = Schema(types=(CardType(id="t", name="T", fields=tuple(fields)),))
    values, _ = derived_values(Card("c", "C", "s", "t", {"n0": 1}), schema)
    assert abs(float(values["n29"]) - 0.352) < 0.01


def test_the_document_says_what_is_refused_and_how(client):
    document = client.get("/api/openapi.json").json()
    assert "NUL" in document["info"]["description"] and "64 bits" in document["info"]["description"]
    errors = [
        kind
        for path in document["paths"].values()
        for operation in path.values()
        for status, said in operation["responses"].items()
        if status.startswith("4")
        for kind in said.get("content", {})
    ]
    assert errors and set(errors) == {"application/problem+json"}
    key = next(
        each
        for each in document["paths"]["/api/games/{game_id}/decks"]["post"]["parameters"]
        if each["name"] == "idempotency-key"
    )
    assert json.dumps(key["schema"]).count("80")


def test_a_file_changed_by_another_program_is_reported_at_the_start(db):
    open_workspace(db).close()
    size = db.stat().st_size
    with db.open("r+b") as file:
        file.seek(4096)
        file.write(b"\xa5" * (size - 4096))
    with pytest.raises(FileDamaged, match="^the file is damaged"):
        open_workspace(db)


def test_a_file_damaged_under_a_running_server_is_reported_and_nothing_returns_500(db):
    workspace = open_workspace(db)
    with TestClient(create_app(workspace), base_url=HERE) as page:
        assert page.get("/api/games").status_code == 200
        for each in (db, db.with_name(db.name + "-wal")):
            data = bytearray(each.read_bytes()) if each.exists() else b""
            if data:
                each.write_bytes(bytes(data[:100]) + b"\xa5" * (len(data) - 100))
        # What was read before may still be known.
        asked = [page.get(f"/api/games{path}") for path in ("", f"/{GAME}", f"/{GAME}/journal", f"/{GAME}/playtests", f"/{GAME}/cards")]
        wrote = page.put(f"/api/games/{GAME}/cards/c-{GAME}-rs-002/fields/cost", json={"value": "3", "base": 10**6}, headers={"X-Page": "test"})
    assert {each.status_code for each in asked} <= {200, 503} and wrote.status_code == 503, wrote.text
    found = asked[2]
    assert found.status_code == 503 and found.headers["content-type"] == "application/problem+json", found.text
    assert found.json()["where"] == "file" and "backups" in found.json()["mend"]
