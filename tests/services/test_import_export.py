"""Tables and whole games exported and imported: the same cell for cell, whatever their content."""

from __future__ import annotations

import csv
import io
import json
import re
import zipfile
from dataclasses import replace

import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from dramok.core.cards import Card
from dramok.core.effects import read_script, script_text
from dramok.formats.tables import ReadAs, escaped, read_table, unescaped, write_text_table
from dramok.formats.text_table import TextColumn, TextTable
from dramok.services import Missing, Refused, open_workspace
from dramok.services.cards.card_detail import detail_of
from dramok.services.cards.card_edits import edit_field, retire_cards
from dramok.services.cards.cells import CellEdit, write_cells
from dramok.services.cards.notes import add_note
from dramok.services.cards.search import find
from dramok.services.files.archive import archive, restore_game
from dramok.services.files.exports import export_table, save_layout, text_table
from dramok.services.files.sheet_additions import Making
from dramok.services.files.sheet_import import Order, plan_import, write_import
from dramok.services.history.history import revisions
from dramok.services.history.marks import add_mark
from dramok.services.history.undo import undo
from dramok.services.rules.card_types import write_type
from tests.conftest import GAME, SAMPLES

NASTY = [
    "=1+1",
    "+3",
    "-x",
    "@cmd",
    "'=a",
    "''quoted",
    "'plain",
    "a;b,c\td",
    'say "so"',
    "líne – é ñ 日本 🌿",
    "-3",
    "1e5",
    "TOTAL",
    "\u202eright",
    "3,5",
    "x3",
]
words = st.sampled_from(NASTY) | st.text(
    st.characters(blacklist_categories=("Cs", "Cc", "Zl", "Zp", "Zs")) | st.just(" "), max_size=20
)


def one_line(text: str) -> str:
    return " ".join(text.split())[:60]


@st.composite
def games(draw):
    """Changes to the demo's first cards: (name, own text, cost, tags, effect) each."""
    return draw(
        st.lists(
            st.tuples(
                words.map(one_line), words.map(str.strip) | st.just("two\nlines"), st.none() | st.integers(0, 12),
                st.sampled_from([(), ("climber",), ("a tag", "b")]),
                st.sampled_from(["", "upon play this: draw 1", "no effect at all", "upon enter this: drw 2", "always: raise height of this by 1"]),
            ),
            min_size=1, max_size=8,
        )
    )  # fmt: skip


@settings(max_examples=15)
@given(rows=games())
@example(rows=[("=1+1", "", None, (), "no effect at all")])  # the only draft, in a game without a text of its own on any card
def test_every_format_comes_back_cell_for_cell(rows, exchange_desk):
    workspace = exchange_desk
    game = workspace.game(GAME)
    cards = dict(game.cards)
    for card, (name, text, cost, tags, effect) in zip(list(cards.values()), rows, strict=False):
        script = read_script(effect, game.vocabulary)[0] if effect else None
        made: Card = card
        for field, value in (
            ("name", name),
            ("printed", text),
            ("cost", cost),
            ("tags", tags),
            ("effect", script),
        ):
            made = made.with_value(field, value or None if field != "cost" else value)
        cards[card.id] = made
    now = replace(game, cards=cards)
    for form in ("csv", "tsv", "xlsx", "json"):
        data = export_table(workspace, now, form)
        update = plan_import(now, data, "same", Order(match="code")).update
        assert update is not None and (update.changed, update.added, update.gone) == ((), (), ()), form
        fresh = plan_import(replace(now, cards={}), data, "fresh").intake
        assert {row.code: (row.type, dict(row.values)) for row in fresh.taken} == {
            card.code: (card.type, dict(card.values)) for card in cards.values()
        }, form


@pytest.fixture(scope="module")
def exchange_desk(demo_file, tmp_path_factory):
    import shutil

    path = shutil.copy(demo_file, tmp_path_factory.mktemp("exchange") / "own.db")
    workspace = open_workspace(path)
    yield workspace
    workspace.close()


@given(words)
def test_escaped_cells_come_back_and_none_begins_like_a_formula(text):
    assert unescaped(escaped(text)) == text
    signed = text[:1] in ("+", "-") and not re.fullmatch(r"[+-]\d+([.,]\d+)?", text)
    assert not (text[:1] in ("=", "@") or signed) or escaped(text)[0] == "'"
    rows = [["Name", "Text"], ["x", text]]
    back = read_table(write_text_table(rows).encode(), ReadAs(delimiter=",")).rows
    assert list(back[1]) == ["x", text]
    assert next(csv.reader(io.StringIO(write_text_table(rows[1:]))))[1][:1] not in ("=", "@")


def test_an_update_shows_each_cell_and_takes_only_what_is_wanted(workspace):
    sheet = "Code,Name,Cost,Bed\nRS-001,Copper Larch Fern,3,Fern\nRS-002,Ladder Fern,2,Moss\nRS-900,Brand New,4,Moss\n"
    home = workspace.game(GAME).sets[0].id
    plan = plan_import(workspace.game(GAME), sheet.encode(), "costs.csv", Order(match="code", set_id=home))
    assert [(each.code, each.field, each.before, each.after) for each in plan.changed] == [
        ("RS-001", "cost", "1", "3"), ("RS-002", "name", "Ladder Frond", "Ladder Fern"), ("RS-002", "bed", "Fern", "Moss"),
    ]  # fmt: skip
    assert ([row.code for row in plan.added], len(plan.update.gone), plan.gone) == (["RS-900"], 94, [])
    some = frozenset({"gone", "added", plan.changed[1].key})
    commit, _ = write_import(
        workspace, GAME, sheet.encode(), "costs.csv", "one", Order(match="code", set_id=home, leave_out=some)
    )
    cards = {each.code: each for each in commit.after.cards.values()}
    assert (
        cards["RS-001"].values["cost"],
        cards["RS-002"].values["name"],
        cards["RS-002"].values["bed"],
    ) == (3, "Ladder Frond", "moss")
    gone = Order(match="code", set_id=home, leave_out=frozenset({"changed", "added"}))
    assert len(write_import(workspace, GAME, sheet.encode(), "costs.csv", "one", gone)[0].after.cards) == 2
    assert len(undo(workspace, GAME, "one").after.cards) == 96
    with pytest.raises(Refused, match="nothing in it is different"):
        write_import(workspace, GAME, b"Code,Cost\nRS-001,3\n", "same.csv", "one", Order(match="code"))


def test_an_update_by_name_never_guesses_which_card_is_meant(workspace):
    edit_field(workspace, GAME, "RS-002", "name", "Copper Larch Fern", workspace.game(GAME).seq, "one")
    sheet = b"Name,Cost\nCopper Larch Fern,5\n,3\nShelf Polypody,9\nshelf  polypody,8\n"
    plan = plan_import(workspace.game(GAME), sheet, "names.csv", Order(match="name", leave_out=frozenset()))
    assert [(each.row, each.why) for each in plan.intake.refused] == [
        (2, "2 cards are called so"), (3, "without a name it can't be matched by name"), (5, "row 4 is about this card already"),
    ]  # fmt: skip
    assert [(each.code, each.after) for each in plan.changed] == [("RS-008", "9")]
    assert not {"c-ribbon-season-rs-001", "c-ribbon-season-rs-002"} & set(plan.gone)


def test_fields_types_and_values_are_made_only_when_asked_and_undone_with_the_cards(workspace):
    data = (SAMPLES / "two-faced.tsv").read_bytes()
    plan = plan_import(workspace.game(GAME), data, "two-faced.tsv")
    assert [(each.name, each.kind) for each in plan.fields] == [
        ("bulb", "text"), ("in winter", "picture"), ("in summer", "back"), ("season", "choice"),
    ]  # fmt: skip
    make = Making({each.column: (each.name, each.kind) for each in plan.fields}, ("Bulb",))
    commit, taken = write_import(
        workspace, GAME, data, "two-faced.tsv", "one", Order(make=make, default_type="Bulb")
    )
    cards = [card for card in commit.after.cards.values() if card.code.startswith("BU-")]
    schema = commit.after.rulebook.cards
    assert (
        len(cards) == 30
        and schema.type("bulb").extends == "card"
        and cards[4].values["in-summer"] == "bulb 005 in flower.JPG"
    )
    assert [value.name for value in schema.list("season").values] == ["early", "late"]
    assert "bulb" not in {each.id for each in undo(workspace, GAME, "one").after.rulebook.cards.types}
    twice = b"Name,Type,Mood,mood,Cost\nNew One,Plant,calm,wild and so on,2\n"
    made = Order(make=Making({2: ("Mood", "text"), 3: ("mood", "text")}))
    after = write_import(workspace, GAME, twice, "t.csv", "one", made)[0].after
    assert {"Mood", "mood 2"} <= {field.name for field in after.rulebook.cards.fields_of("plant")}
    (new,) = [card for card in after.cards.values() if card.text("name") == "New One"]
    assert sorted(str(value) for value in new.values.values() if "wild" in str(value) or value == "calm") == ["calm", "wild and so on"]
    undo(workspace, GAME, "one")
    sheet = b"Name,Type,Bed\nRed,Vine,Heather\n"
    plan = plan_import(workspace.game(GAME), sheet, "v.csv")
    assert (dict(plan.types), [(each.list, each.value) for each in plan.values]) == (
        {"Vine": 1},
        [("beds", "Heather")],
    )
    made = Order(make=Making(types=("Vine",), values={"beds": ("Heather",)}))
    commit, _ = write_import(workspace, GAME, sheet, "v.csv", "one", made)
    (red,) = [card for card in commit.after.cards.values() if card.values.get("name") == "Red"]
    assert (red.type, red.values["bed"]) == ("vine", "heather")


def test_a_workbook_that_nobody_tidied(workspace):
    data = (SAMPLES / "tiles.xlsx").read_bytes()
    plan = plan_import(workspace.game("crowded-bed"), data, "tiles.xlsx")
    assert (plan.file.sheets, plan.file.sheet, plan.intake.header, len(plan.intake.taken)) == (
        ("Bed tiles", "Notes"),
        "Bed tiles",
        3,
        48,
    )
    assert "48 formula cells" in plan.file.notes[0] and "row 8 is hidden" in plan.file.notes[1]
    with pytest.raises(Refused):
        write_import(workspace, "crowded-bed", data, "tiles.xlsx", "one", Order(read=ReadAs(sheet="Notes")))


def test_when_nothing_matches_the_first_lines_are_shown_and_columns_can_be_matched(workspace):
    sheet = b"alpha;beta\n1;Larch\n2;Fern\n"
    plan = plan_import(workspace.game(GAME), sheet, "x.csv")
    assert (
        plan.problem is not None
        and "no line looks like a header" in plan.problem.what
        and plan.lines[1] == ("1", "Larch")
    )
    assert (plan.added, len(plan.intake.skipped)) == ([], 2)
    by_hand = replace(Order(), wishes=replace(Order().wishes, columns={0: "cost", 1: "name"}, header=1))
    assert [
        (row.name, row.values["cost"]) for row in plan_import(workspace.game(GAME), sheet, "x.csv", by_hand).added
    ] == [("Larch", 1), ("Fern", 2)]


def test_a_text_table_is_laid_out_as_the_designer_says(workspace):
    layout = TextTable(
        name="For the sleeves", separator="|", sides="joined", side_join=" / ", quotes="needed", newlines="escape", query="bed is Briar cost is 2", line_end="crlf",
        columns=(
            TextColumn(heading="Title", front=("title",)), TextColumn(heading="Both", front=("cost", "code"), back=("set",), join="/"),
            TextColumn(heading="Text", front=("printed text",)),
        ),
    )  # fmt: skip
    text, notes = text_table(workspace, workspace.game(GAME), layout)
    lines = text.split("\r\n")
    assert lines[0] == "Title|Both|Text" and lines[1].split("|")[1] == "2/RS-026 / First Showing"
    two = text_table(
        workspace,
        workspace.game(GAME),
        layout.model_copy(update={"sides": "lines", "each_copy": True, "header": False}),
    )[0]
    assert two.count("\r\n") > 2 * (len(lines) - 2) and not notes
    edit_field(workspace, GAME, "RS-026", "name", "=HYPERLINK(1)|x", workspace.game(GAME).seq, "one")
    guarded, notes = text_table(workspace, workspace.game(GAME), layout.model_copy(update={"quotes": "never"}))
    assert "'=HYPERLINK(1) x|" in guarded and len(notes) == 2
    with pytest.raises(Refused, match="no card has"):
        text_table(workspace, workspace.game(GAME), TextTable(name="x", columns=(TextColumn(front=("nonsense",)),)))
    for separator in ('"', "\n", ' "'):
        with pytest.raises(Refused, match="between cells"):
            text_table(workspace, workspace.game(GAME), layout.model_copy(update={"separator": separator}))
    save_layout(workspace, GAME, layout.model_dump(mode="json"), "one")
    with pytest.raises(Refused, match="already"):
        save_layout(workspace, GAME, layout.model_dump(mode="json"), "one")


def test_a_slip_in_the_copies_does_not_write_a_thousand_million_lines(workspace):
    rules = workspace.game(GAME).rulebook
    kind = json.loads(rules.cards.type("card").model_dump_json())
    for each in kind["fields"]:
        if each["id"] == rules.roles.copies:
            each["most"] = 10**9
    write_type(workspace, GAME, kind, workspace.game(GAME).seq, "one")
    edit_field(workspace, GAME, "RS-026", "copies", "999999999", workspace.game(GAME).seq, "one")
    layout = TextTable(name="All", each_copy=True, columns=(TextColumn(front=("title",)),))
    with pytest.raises(Refused) as refused:
        text_table(workspace, workspace.game(GAME), layout)
    told = refused.value.problem
    assert told.where == "copies" and "999,999,999 of them of RS-026" in told.what and "a line for each card" in told.mend
    assert len(text_table(workspace, workspace.game(GAME), layout.model_copy(update={"each_copy": False}))[0].splitlines()) == 97
    edit_field(workspace, GAME, "RS-026", "copies", "5000", workspace.game(GAME).seq, "one")
    assert len(text_table(workspace, workspace.game(GAME), layout)[0].splitlines()) >= 5_095


def filled(workspace):
    """The demo game with something of every kind in it."""
    game = workspace.game(GAME)
    write_cells(workspace, GAME, [CellEdit("c-ribbon-season-rs-001", "height", "4")], game.seq, "one")
    add_note(workspace, GAME, "RS-001", "Watch this", "one")
    add_mark(workspace, GAME, "before playtest 3", "one")
    edit_field(workspace, GAME, "RS-003", "name", "Cistern", workspace.game(GAME).seq, "one")
    retire_cards(workspace, GAME, ["RS-002"], "one")
    return workspace.game(GAME)


def test_a_backup_is_restored_with_its_history_as_a_second_game_or_in_another_file(workspace, tmp_path):
    game = filled(workspace)
    data = archive(workspace, game)
    other = open_workspace(tmp_path / "other.db", demo=False)
    for target, kept in ((other, True), (workspace, False)):
        back = restore_game(target, data)
        assert (back.id == GAME, back.name == game.name) == (kept, kept)
        same = {card.code: (card.type, dict(card.values), card.revision) for card in game.cards.values()}
        assert {
            card.code: (card.type, dict(card.values), card.revision) for card in back.cards.values()
        } == same
        assert (
            (set(back.cards) == set(game.cards)) == kept
            and back.prices == game.prices
            and back.formats == game.formats
        )
        codes = [
            {at.cards[ident].code: count for ident, count in deck.cards.items() if ident in at.cards}
            for at in (game, back)
            for deck in at.decks.values()
        ]
        assert codes[: len(game.decks)] == codes[len(game.decks) :]
        first = next(iter(back.cards))
        assert [each.kind for each in revisions(target, back, first)] == ["changed", "made"]
        assert (
            next(each for each in back.of_kind("note") if each.doc["text"] == "Watch this").doc["card"]
            == first
        )
        assert [card.code for card in find(target, back, 'changed since "before playtest 3"').cards] == [
            "RS-003"
        ]
        assert undo(target, back.id, "one").after.cards[back.by_code["rs-001"]].code == "RS-001"
    other.close()
    assert len({each.id for each in workspace.games()}) == len(workspace.games())
    again = restore_game(workspace, data)
    assert again.name == "Ribbon Season 3" and len(again.cards) == 95


def game_card(game, code: str) -> Card:
    return game.cards[game.by_code[code.lower()]]


def as_of_old(data: bytes) -> bytes:
    """A backup as an earlier version would have written it: `heal` was restore, the damage limit toughness."""
    made = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(made, "w") as new:
        for name in old.namelist():
            content = old.read(name)
            if name.endswith((".json", ".jsonl")):
                for now, then in ((b"damage_limit", b"toughness"), (b"heal", b"restore")):
                    content = content.replace(b'"' + now + b'"', b'"' + then + b'"')
                    content = content.replace(b'\\"' + now + b'\\"', b'\\"' + then + b'\\"')
            new.writestr(name, content)
    return made.getvalue()


def test_a_backup_of_an_earlier_version_is_read_and_its_edits_undone(workspace, tmp_path):
    """Verbs and roles have other names by now; what was written under the old ones is read, compared and undone."""
    edit_field(workspace, GAME, "RS-012", "effect", "upon enter this: heal 1 to this", workspace.game(GAME).seq, "one")
    edit_field(workspace, GAME, "RS-012", "effect", "upon enter this: heal 3 to this", workspace.game(GAME).seq, "one")
    game, data = workspace.game(GAME), as_of_old(archive(workspace, workspace.game(GAME)))
    with zipfile.ZipFile(io.BytesIO(data)) as old:
        said = b"".join(old.read(name) for name in old.namelist() if name.endswith((".json", ".jsonl")))
    assert b'"verb":"restore"' in said.replace(b" ", b"") and b'"toughness"' in said
    other = open_workspace(tmp_path / "other.db", demo=False)
    back = restore_game(other, data)
    assert back.rulebook == game.rulebook and back.prices == game.prices
    assert dict(back.cards[back.by_code["rs-012"]].values) == dict(game_card(game, "RS-012").values)
    for line in ("upon enter this: heal 1 to this", "upon enter this: heal 2 to all own plant"):
        back = undo(other, back.id, "one").after
        assert script_text(game_card(back, "RS-012").script("effect"), back.vocabulary) == line
    other.close()


def test_the_same_game_makes_the_same_archive_and_a_shared_copy_holds_nothing_private(workspace):
    game = filled(workspace)
    names = zipfile.ZipFile(io.BytesIO(archive(workspace, game, shared=True))).namelist()
    assert not {
        "prices.json",
        "history.jsonl",
        "things/note.json",
        "things/mark.json",
        "playtests.json",
    } & set(names)
    one, two = (zipfile.ZipFile(io.BytesIO(archive(workspace, game))) for _ in range(2))
    assert [one.read(name) for name in one.namelist()[1:]] == [two.read(name) for name in two.namelist()[1:]]
    shared = restore_game(workspace, archive(workspace, game, shared=True), "Given away")
    assert shared.name == "Given away" and not shared.of_kind("note") and len(shared.cards) == 95


def test_the_rules_of_every_game_come_back_as_they_are(workspace):
    for game in workspace.games():
        for shared in (False, True):
            back = restore_game(workspace, archive(workspace, game, shared))
            assert back.rulebook.model_copy(update={"name": game.rulebook.name}) == game.rulebook
            assert [detail_of(back, card).face for card in back.cards.values()] == [
                detail_of(game, card).face for card in game.cards.values()
            ]


def put_in(data: bytes, name: str, content: bytes) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(out, "w") as new:
        for info in old.infolist():
            if info.filename != name:
                new.writestr(info, old.read(info))
        new.writestr(name, content)
    return out.getvalue()


def test_archives_that_are_damaged_or_hostile_change_nothing(workspace):
    data = archive(workspace, workspace.game(GAME))
    cards = json.loads(zipfile.ZipFile(io.BytesIO(data)).read("cards/first.json"))
    bad = {
        b"": "damaged, or is not an archive", b"PK\x03\x04nonsense": "damaged, or is not an archive", data[: len(data) // 2]: "damaged, or is not an archive",
        put_in(data, "../../etc/passwd", b"x"): "would leave the archive's folder", put_in(data, "bomb.json", b"0" * 30_000_000): None,
        put_in(data, "rules.json", b"{}"): "rules.json", put_in(data, "cards/first.json", json.dumps([cards[0], cards[0]]).encode()): "two cards have the id",
        put_in(data, "cards/first.json", json.dumps([{**cards[0], "type": "ghost"}]).encode()): "of a type ghost",
        put_in(data, "things/note.json", b'[{"id": "n1", "doc": {"card": 3}}]'): "things/note.json", put_in(data, "formats.json", b"[]"): "formats.json",
        put_in(data, "cards/first.json", json.dumps([{**cards[0], "values": {"effect": {"lines": 3}}}]).encode()): "cards/first.json",
        put_in(data, "history.jsonl", b'{"seq": 1, "label": "x", "page": "y", "at": "z", "changes": [{"entity": "card", "id": "c", "field": "cost", "after": "{"}]}'): "history.jsonl line 1",
        put_in(data, "cards/first.json", json.dumps([{**cards[0], "seq": 10**30}]).encode()): "cards/first.json",
        put_in(data, "decks.json", b"[" * 100_000): "decks.json", put_in(data, "dramok.json", b'{"format": "other/1"}'): "dramok.json",
    }  # fmt: skip
    before = len(workspace.games())
    for content, said in bad.items():
        if said is None:
            packed = io.BytesIO()
            with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as bomb:
                bomb.writestr("dramok.json", b"0" * 30_000_000)
            content, said = packed.getvalue(), "times when unpacked"
        with pytest.raises(Refused, match=said):
            restore_game(workspace, content)
    assert len(workspace.games()) == before
    far = put_in(data, "cards/first.json", json.dumps([{**cards[0], "seq": 2**53}]).encode())
    assert len(restore_game(workspace, far).cards) == 1  # the number of an edit that never was
    with pytest.raises(Missing):
        workspace.game("ghost")
