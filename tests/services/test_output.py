"""Printing: print runs and which prints are out of date, sheets, pictures, and their jobs."""

from __future__ import annotations

import io
import json
import re
import zipfile
from pathlib import Path

import pypdfium2
import pytest
from PIL import Image, ImageChops, ImageStat

from dramok.core.output import Limits, Paper
from dramok.services import Missing, Refused
from dramok.services.cards.card_edits import retire_cards
from dramok.services.cards.cells import CellEdit, write_cells
from dramok.services.cards.ripples import ripple_of
from dramok.services.cards.search import find
from dramok.services.faces.face_plans import PlanEdit, edit_plan
from dramok.services.history.undo import undo
from dramok.services.output import jobs
from dramok.services.output.atomic_files import atomic_file
from dramok.services.output.card_pictures import PictureOrder, make_pictures, plan_pictures
from dramok.services.output.chosen_cards import CardChoice, wanted
from dramok.services.output.job_steps import Stopped
from dramok.services.output.print_runs import forget_run, on_paper, record_run, run_doc
from dramok.services.output.printing import PrintOrder, plan_print, print_cards
from dramok.services.output.table_sheets import SheetOrder, make_sheets, plan_sheets
from dramok.store import Key
from tests.conftest import GAME
from tests.test_cli import run

DAY = "2026-11-23"
MM = 25.4 / 72


def order_of(choice=None, **order):
    return PrintOrder(choice=CardChoice(**(choice or {})), **order)


def printed(workspace, game=GAME, choice=None, **order):
    """The PDF, and how it was planned."""
    plan = plan_print(workspace, workspace.game(game), order_of(choice, **order))
    out = io.BytesIO()
    made = print_cards(workspace, plan, out, DAY)
    return out.getvalue(), plan, made


def faces_on(data, page=0):
    """(x, y, width, height) in mm from the page's top left corner of every face: the box of its form, where the page's own matrix puts it."""
    boxes = {tuple(map(float, each.split())) for each in re.findall(rb"/BBox \[([^\]]+)\]", data)}
    cards = [box for box in boxes if box[2] < 100]
    assert cards == [(0.0, 0.0, 63.5, 88.9)]
    held = pypdfium2.PdfDocument(data)[page]
    high = held.get_height()
    found = []
    for each in held.get_objects(max_depth=1):
        if each.type == pypdfium2.raw.FPDF_PAGEOBJ_FORM:
            matrix = each.get_matrix()
            found.append((matrix.e * MM, (high - matrix.f) * MM, 63.5 * matrix.a * MM, -88.9 * matrix.d * MM))
    return found


def test_a_deck_is_printed_with_its_copies_and_backs_behind_their_fronts(workspace):
    deck = next(iter(workspace.game(GAME).decks.values()))
    data, plan, made = printed(workspace, choice={"deck": deck.name}, backs="long")
    assert (made.facts["copies"], made.facts["cards"]) == (deck.size, len(deck.cards))
    assert made.facts["pages"] == plan.pages == 2 * -(-deck.size // 9)
    document = pypdfium2.PdfDocument(data)
    assert len(document) == plan.pages
    assert [round(each * MM, 1) for each in document[0].get_size()] == [210.0, 297.0]
    text = document[0].get_textpage().get_text_range()
    assert "50 mm" in text and f"Ribbon Season · {deck.name} · {DAY} · 1 of 4" in text
    assert printed(workspace, choice={"deck": deck.name}, backs="long")[0] == data, (
        "the same order, the same bytes"
    )
    assert b"/PrintScaling /None" in data and b"/Duplex /DuplexFlipLongEdge" in data
    fonts = set(re.findall(rb"/FontName /(\S+)", data))
    assert fonts and all(re.match(rb"[A-Z]{6}\+", name) for name in fonts), "only subsets of fonts"
    assert data.count(b"/FontFile2") == len(fonts), "every font is embedded"


def test_a_sheet_too_narrow_for_the_ruler_says_so_and_does_not_ask_to_measure_it(workspace):
    for wide, held in ((68, False), (85, True)):
        paper = Paper(width=wide, height=200, margin=2, turned="portrait")
        data, _, made = printed(workspace, choice={"cards": "1-2", "copies": 1}, paper=paper)
        text = pypdfium2.PdfDocument(data)[0].get_textpage().get_text_range()
        assert ("50 mm" in text) == any("50 mm" in each for each in made.guide) == held
        assert ("the sheet is too narrow for the ruler of 50 mm: measure a card" in made.warnings) == (not held)
        assert "1 of" in text, "the line itself is as long as there is room for"


@pytest.mark.parametrize("scale", [1.0, 0.97])
def test_a_printed_card_measures_what_its_plan_says_to_a_hundredth_of_a_millimetre(workspace, scale):
    data, _, made = printed(workspace, choice={"cards": "1-9", "copies": 1}, paper=Paper(scale=scale))
    found = faces_on(data)
    assert len(found) == 9
    for _, _, wide, high in found:
        assert (wide, high) == (pytest.approx(63.5 * scale, abs=0.01), pytest.approx(88.9 * scale, abs=0.01))
    across = sorted({round(x, 2) for x, *_ in found})
    assert [b - a for a, b in zip(across, across[1:], strict=False)] == pytest.approx(
        [63.5 * scale] * 2, abs=0.011
    )
    said = [each for each in made.warnings if "comes out" in each]
    assert said == ([] if scale == 1 else ["at 97 % a card comes out 61.59 x 86.23 mm, not 63.5 x 88.9"])


@pytest.mark.parametrize("edge", ["long", "short"])
@pytest.mark.parametrize("turned", ["portrait", "landscape"])
def test_mirrored_every_back_covers_its_front(workspace, edge, turned):
    """The pages are laid over each other as the printer turns them: the last page, half full, shows whether they match."""
    data, plan, _ = printed(
        workspace, choice={"cards": "1-2", "copies": 1}, backs=edge, paper=Paper(turned=turned, bleed=True), marks=False, ruler=False, colophon=False
    )  # fmt: skip
    document = pypdfium2.PdfDocument(data)
    front, back = (document[page].render(scale=1).to_pil().convert("L") for page in (0, 1))
    upright = turned == "portrait"
    flip = Image.Transpose.FLIP_LEFT_RIGHT if (edge == "long") == upright else Image.Transpose.FLIP_TOP_BOTTOM
    ink = [ImageChops.invert(each).point(lambda grey: 255 if grey > 6 else 0).getbbox() for each in (front, back.transpose(flip))]  # fmt: skip
    assert ink[0] == pytest.approx(ink[1], abs=1)
    wide, high = plan.leaves[0].laid.card
    box = plan.leaves[0].laid.slots[0]
    alone = plan_print(
        workspace, plan.game, order_of({"cards": "1", "copies": 1}, backs=edge, paper=Paper(turned=turned))
    )
    assert alone.leaves[0].back()[0].slot.turned == (flip == Image.Transpose.FLIP_TOP_BOTTOM), "head on head"
    assert wide < high and box.x >= 5


def test_backs_next_to_their_fronts_stay_together(workspace):
    _, plan, _ = printed(workspace, choice={"cards": "1-11", "copies": 1}, backs="beside")
    for leaf in plan.leaves:
        spots = leaf.front()
        for front, back in zip(spots[::2], spots[1::2], strict=True):
            assert (front.card, front.side, back.card, back.side) == (front.card, "front", front.card, "back")
            apart = abs(front.slot.x - back.slot.x) + abs(front.slot.y - back.slot.y)
            assert apart == pytest.approx(leaf.laid.card[0]) or apart == pytest.approx(leaf.laid.card[1])


def test_tiles_of_two_sizes_lie_on_leaves_of_their_own_and_blank_cards_follow(workspace):
    _, plan, made = printed(workspace, "crowded-bed", {"copies": 1})
    planting, fixture = 44, 4
    assert made.facts["copies"] == planting + fixture and len(plan.leaves) == -(-planting // 12) + 1
    _, odd, made = printed(
        workspace, "crowded-bed", {"query": "type is Fixture", "copies": 2}, paper=Paper(margin=1)
    )
    assert (made.facts["copies"], odd.pages) == (8, 1)
    _, _, made = printed(workspace, choice={"only": "none"}, blanks=10, ink="sparing")
    assert (made.facts["copies"], made.facts["blanks"], made.facts["pages"]) == (0, 10, 2)


@pytest.mark.parametrize(
    ("order", "error", "said"),
    [
        ({"choice": {"cards": "900"}}, Refused, "there is no card 900"),
        ({"choice": {"copies": 0}}, Refused, "0 copies of every card"),
        ({"choice": {"copies": 10_000}}, Refused, "960,000 copies are too many at once"),
        ({"choice": {"query": "cost is is"}}, Refused, "number"),
        ({"choice": {"deck": "None such"}}, Missing, "no deck"),
        ({"choice": {"set": "None such"}}, Missing, "no set"),
        ({"choice": {"run": "none-such"}}, Missing, "no such print run"),
        ({"choice": {"only": "stale"}}, Refused, "nothing on paper is out of date"),
        ({"paper": Paper(width=60, height=60)}, Refused, "does not fit"),
        ({"paper": Paper(width=70, height=100), "backs": "beside"}, Refused, "its back beside it do not fit"),
        ({"choice": {"cards": "1"}, "left_out": (1,)}, Refused, "every page is left out"),
    ],
)
def test_what_can_not_be_printed_is_refused_with_the_reason(workspace, order, error, said):
    choice = order.pop("choice", None)
    with pytest.raises(error, match=said):
        plan_print(workspace, workspace.game(GAME), order_of(choice, **order))


def test_a_run_records_what_it_printed_and_out_of_date_prints_can_be_listed_and_reprinted(workspace):
    _, plan, _ = printed(workspace, choice={"cards": "1-20"}, backs="long", left_out=(1,))
    first, name = record_run(workspace, GAME, run_doc(plan))
    game = workspace.game(GAME)
    assert name == "Cards 1-20" and list(game.printed) == list(plan.counts)
    assert on_paper(game).stale == () and on_paper(game).unprinted == 96 - len(plan.counts)
    one, other = list(plan.counts)[-2:]
    edit = write_cells(
        workspace, GAME, [CellEdit(one, "name", "Wet Wick"), CellEdit(other, "name", "Dry Wick")], game.seq, "page"
    )
    ripple = ripple_of(edit.commit)
    assert [(each.card, each.stale) for each in ripple.cards] == [(one, 2), (other, 2)], (
        "two copies of each are on paper"
    )
    assert [each.after.paper for each in ripple.cards] == ["stale", "stale"]
    game = workspace.game(GAME)
    assert [card.id for card in find(workspace, game, "stale on paper").cards] == [one, other]
    assert [card.id for card in find(workspace, game, f'stale since "{name}"').cards] == [one, other]
    assert len(find(workspace, game, f'printed in "{name}"').cards) == len(plan.counts)
    assert len(find(workspace, game, "never printed").cards) == 96 - len(plan.counts)
    record_run(workspace, GAME, run_doc(printed(workspace, choice={"cards": "90", "copies": 5})[1]))
    last = list(game.cards)[89]
    write_cells(workspace, GAME, [CellEdit(last, "name", "Otherwise")], workspace.game(GAME).seq, "page")
    reprint = plan_print(workspace, workspace.game(GAME), order_of({"only": "stale"}))
    assert reprint.counts == {one: 2, other: 2, last: 5}, "as many as lie on paper"
    undo(workspace, GAME, "page")
    forget_run(workspace, GAME, on_paper(workspace.game(GAME)).runs[0].id, "page")
    again, plan, made = printed(workspace, choice={"only": "stale", "cards": game.cards[one].code}, backs="long")
    assert plan.counts == {one: 2}
    second, name = record_run(workspace, GAME, run_doc(plan))
    report = on_paper(workspace.game(GAME))
    assert report.stale == (other,) and [each.stale for each in report.runs] == [(), (other,)]
    forget_run(workspace, GAME, second, "page")
    assert on_paper(workspace.game(GAME)).stale == (one, other), "only the older paper is left"
    forget_run(workspace, GAME, first, "page")
    assert on_paper(workspace.game(GAME)).unprinted == 96


def test_two_runs_at_once_have_two_names_and_the_same_run_again_is_one(workspace):
    _, plan, _ = printed(workspace, choice={"cards": "1"})
    assert [record_run(workspace, GAME, run_doc(plan))[1] for _ in range(2)] == ["Cards 1", "Cards 1 2"]
    assert record_run(workspace, GAME, run_doc(plan), "rsame") == ("rsame", "Cards 1 3")
    assert record_run(workspace, GAME, run_doc(plan), "rsame") == ("rsame", "Cards 1 3")
    assert len(workspace.game(GAME).of_kind("run")) == 3


def sheets(workspace, game=GAME, **order):
    plan = plan_sheets(workspace, workspace.game(game), SheetOrder(**order))
    out = io.BytesIO()
    made = make_sheets(workspace, plan, out, workers=1)
    return zipfile.ZipFile(out), made


def like(one, other):
    """How far two pictures are apart, in grey levels on average."""
    return max(ImageStat.Stat(ImageChops.difference(one.convert("RGB"), other.convert("RGB"))).mean)


@pytest.mark.parametrize(
    ("game", "extent", "form"), [(GAME, "square", "jpeg"), ("crowded-bed", "cut", "png")]
)
def test_sheets_cut_back_into_cards_are_the_faces(workspace, game, extent, form):
    archive, _ = sheets(
        workspace, game, choice=CardChoice(cards="38-48" if game != GAME else "1-11"), each_copy=False, width=160, extent=extent, form=form, hidden="last"
    )  # fmt: skip
    snapshot = workspace.game(game)
    out = io.BytesIO()
    plan = plan_pictures(
        workspace, snapshot, PictureOrder(width=160, sides="both", extent=extent, names="{code} {side}")
    )
    make_pictures(workspace, plan, out, workers=1)
    faces = zipfile.ZipFile(out)
    seen = 0
    for name in archive.namelist():
        if not name.endswith(".json"):
            continue
        said = json.loads(archive.read(name))
        image = Image.open(io.BytesIO(archive.read(said["file"])))
        wide, high = said["cell"]["width"], said["cell"]["height"]
        assert image.size == (wide * said["columns"], high * said["rows"]) == (said["width"], said["height"])
        assert (
            f"{said['columns']}x{said['rows']}" in said["file"] and f"{said['cards']} cards" in said["file"]
        )
        places = [(at["column"], at["row"], f"{at['code']} front.png") for at in said["places"]]
        places.append(
            (said["hidden"]["column"], said["hidden"]["row"], f"{said['places'][0]['code']} back.png")
        )
        for column, row, file in places:
            cell = image.crop(((column - 1) * wide, (row - 1) * high, column * wide, row * high))
            face = Image.open(io.BytesIO(faces.read(file)))
            if form == "jpeg":
                assert like(cell, face) < 3, file
            else:
                assert cell.convert("RGBA").tobytes() == face.convert("RGBA").tobytes(), file
            seen += 1
    assert seen == 11 + len([name for name in archive.namelist() if name.endswith(".json")])


def test_faces_that_differ_in_their_bleed_alone_share_a_sheet_only_where_none_is_shown(workspace):
    tool = f"f-{GAME}-tool"
    size = workspace.game(GAME).faces.worn(workspace.game(GAME).cards[f"c-{GAME}-rs-021"]).size
    edit_plan(workspace, GAME, tool, PlanEdit(head={"size": {**size.model_dump(), "bleed": 6}}), workspace.game(GAME).seq, "one")
    for extent, cells in (("cut", [(100, 140)]), ("bleed", [(100, 137), (100, 134)])):
        archive, _ = sheets(workspace, choice=CardChoice(cards="20-22"), width=100, extent=extent, form="png", hidden="none", backs="none")
        said = [json.loads(archive.read(name)) for name in archive.namelist() if name.endswith(".json")]
        assert [(each["cell"]["width"], each["cell"]["height"]) for each in said] == cells
        for each in said:
            wide, high = Image.open(io.BytesIO(archive.read(each["file"]))).size
            assert (wide, high) == (each["columns"] * each["cell"]["width"], each["rows"] * each["cell"]["height"])


def test_decks_by_list_have_their_copies_their_backs_and_a_table_and_a_page_that_says_what_to_enter(workspace):
    game = workspace.game(GAME)
    decks = list(game.decks.values())[:2]
    archive, made = sheets(
        workspace, decks=tuple(each.id for each in decks), width=64, limits=Limits(side=300), hidden="apart", backs="each"
    )  # fmt: skip
    entries = [json.loads(archive.read(name)) for name in archive.namelist() if name.endswith(".json")]
    for deck in decks:
        mine = [each for each in entries if each["of"] == deck.name]
        assert sum(each["cards"] for each in mine) == deck.size and len(mine) > 1
        assert all(max(each["width"], each["height"]) <= 300 for each in mine)
        assert all(
            each["backs"] in archive.namelist() and each["hidden"]["file"] in archive.namelist()
            for each in mine
        )
    twice, _ = sheets(workspace, decks=(decks[0].id, decks[0].id), width=40, backs="none", hidden="none")
    assert len(set(twice.namelist())) == len(twice.namelist()), "no file hides another of its name"
    page = archive.read("read me first.html").decode()
    for each in entries:
        assert each["file"] in page and each["backs"] in page
    lines = archive.read("Cards.tsv").decode().splitlines()
    assert lines[0].split("\t") == ["File", "Place", "Column", "Row", "Code", "Name", "Copies"]
    assert len(lines) - 1 == sum(deck.size for deck in decks)
    assert made.facts["cells"] == sum(deck.size for deck in decks)


def test_a_file_keeps_to_its_limit_by_smaller_cells_and_says_so(workspace):
    archive, made = sheets(
        workspace, choice=CardChoice(cards="1-8", copies=1), width=300, form="png", megabytes=0.2
    )
    [said] = [json.loads(archive.read(name)) for name in archive.namelist() if name.endswith(".json")]
    assert archive.getinfo(said["file"]).file_size <= 0.2 * 1024 * 1024
    assert (
        said["cell"]["width"] < 300
        and Image.open(io.BytesIO(archive.read(said["file"]))).width == said["width"]
    )
    assert f"its cells are {said['cell']['width']} pixels wide, not 300" in made.warnings[0]
    with pytest.raises(Refused, match=r"can't be made as small as 0\.001 MB"):
        sheets(workspace, choice=CardChoice(cards="1-2", copies=1), width=200, form="png", megabytes=0.001)
    with pytest.raises(Refused, match="does not fit a side of 64"):
        sheets(workspace, limits=Limits(side=64))


def test_single_cards_for_the_table_and_pictures_by_a_pattern(workspace):
    archive, made = sheets(workspace, choice=CardChoice(cards="1-3", copies=2), single=True, width=80)
    held = json.loads(archive.read("cards.json"))["cards"]
    assert [each["places"][0]["copies"] for each in held] == [2, 2, 2] and made.facts["sheets"] == 3
    assert held[0]["file"] == "RS-001 Copper Larch Fern.jpg" and held[0]["back"] in archive.namelist()
    plan = plan_pictures(
        workspace, workspace.game(GAME), PictureOrder(choice=CardChoice(cards="1-3"), form="svg", names='{number}: "{Name}"/{bed}?')
    )  # fmt: skip
    assert [each.file for each in plan.pictures][:2] == [
        "1- -Copper Larch Fern-Fern.svg",
        "2- -Ladder Frond-Fern.svg",
    ]
    out = io.BytesIO()
    make_pictures(workspace, plan, out)
    text = zipfile.ZipFile(out).read(plan.pictures[0].file).decode()
    assert "<text" not in text and "font-family" not in text, "it needs none of our fonts"
    same = plan_pictures(
        workspace,
        workspace.game(GAME),
        PictureOrder(choice=CardChoice(cards="1-3"), height=100, form="jpeg", names="card"),
    )
    assert [each.file for each in same.pictures] == ["card.jpg", "card 2.jpg", "card 3.jpg"] and len(
        same.warnings
    ) == 1
    out = io.BytesIO()
    make_pictures(workspace, same, out, workers=1)
    image = Image.open(io.BytesIO(zipfile.ZipFile(out).read("card.jpg")))
    assert (image.format, image.height) == ("JPEG", 100)


@pytest.mark.parametrize(
    ("order", "said"),
    [
        ({"names": "{cod}"}, "nothing is called {cod}"),
        ({"names": "{code"}, "a bracket has no partner"),
        ({"names": " "}, "there is no pattern"),
        ({"dpi": 1200.0, "choice": CardChoice(cards="1")}, None),
        ({"width": 8000, "choice": CardChoice(cards="1")}, "8,000 x 11,200 pixels are too many"),
    ],
)
def test_pictures_that_can_not_be_made_are_refused_with_the_reason(workspace, order, said):
    if said is None:
        assert plan_pictures(workspace, workspace.game(GAME), PictureOrder(**order)).pictures[0].width == 3000
        return
    with pytest.raises(Refused, match=re.escape(said)):
        plan_pictures(workspace, workspace.game(GAME), PictureOrder(**order))


def test_a_job_that_is_stopped_or_can_not_be_written_leaves_nothing_half_made(workspace, tmp_path, monkeypatch):
    job = jobs.create_job(workspace, workspace.game(GAME), order_of({"cards": "1-30"}), Key("key"))
    assert jobs.create_job(workspace, workspace.game(GAME), order_of({"cards": "1-30"}), Key("key")).id == job.id, (
        "asked twice, made once"
    )
    steps = []

    def tick(done, total):
        steps.append(done)
        if done == 3:
            raise Stopped

    with pytest.raises(Stopped):
        jobs.make(workspace, job, None, tick)
    assert not list(jobs.folder_of(workspace, job).iterdir()) and steps == [0, 1, 2, 3]
    target = tmp_path / "run.pdf"
    target.write_bytes(b"as it was")

    def full(_self):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("os.fsync", full)
    with pytest.raises(Refused, match="the disk is full"), atomic_file(target) as out:
        out.write(b"half")
    assert target.read_bytes() == b"as it was" and [each.name for each in tmp_path.glob("*run.pdf*")] == [
        "run.pdf"
    ]


def test_a_card_removed_while_its_sheet_is_made_is_left_out_and_reported(workspace):
    game = workspace.game(GAME)
    order = order_of({"cards": "1-3", "copies": 1})
    job = jobs.create_job(workspace, game, order)
    meant = jobs.resolve(workspace, job)
    retire_cards(workspace, GAME, [meant[0][1][0]], "page")
    plan = jobs.plan_of(workspace, workspace.game(GAME), order, meant)
    assert len(plan.counts) == 2 and "removed from the game meanwhile" in plan.warnings[0]
    planned = plan_print(workspace, game, order)
    assert print_cards(workspace, planned, io.BytesIO(), DAY).facts["cards"] == 3, (
        "what has begun goes on with the card as it was"
    )


def test_the_commands_print_and_make_sheets_and_pictures_and_never_write_over_a_file_unasked(db, tmp_path):
    file: Path = tmp_path / "run.pdf"
    here = ("--game", GAME, "--db", db)
    done = json.loads(run("print", file, "--cards", "1-10", "--copies", "1", "--json", *here))
    assert (done["copies"], done["pages"], done["bytes"]) == (10, 2, file.stat().st_size) and done["run"]
    assert "is there already" in run("print", file, *here, code=1)
    assert "nothing on paper is out of date" in run(
        "print", tmp_path / "stale.pdf", "--only", "stale", *here, code=1
    )
    said = run("print", tmp_path / "same.pdf", "--since", "Cards 1-10", "--no-record", *here)
    assert "20 cards on 3 pages" in said and "Recorded" not in said
    for wrong in (
        ("--paper", "A9"),
        ("--backs", "top"),
        ("--scale", "99"),
        ("--cards", "RS-999"),
        ("--since", "none"),
    ):
        run("print", tmp_path / "other.pdf", *wrong, *here, code=1)
    assert not (tmp_path / "other.pdf").exists()
    done = json.loads(
        run("sheets", tmp_path / "s.zip", "--deck", "Fern over Moss", "--width", "64", "--json", *here)
    )
    assert done["sheets"] == 1 and done["grids"][0]["cards"] == 36
    done = json.loads(run("pictures", tmp_path / "p.zip", "--cards", "1-2", "--width", "60", "--json", *here))
    assert zipfile.ZipFile(tmp_path / "p.zip").namelist() == [
        "RS-001 Copper Larch Fern front.png",
        "RS-002 Ladder Frond front.png",
    ]
    assert done["pictures"] == 2


def test_a_box_holds_each_card_as_often_as_a_match_of_the_most_seats_needs_it(workspace):
    game = workspace.game("potting-shed")
    found = wanted(workspace, game, CardChoice(copies_from="box"))
    counts = {card.code: count for card, count in found.cards}
    # Four seats begin with three, two and one of the first cards; the benches and shows are there once.
    assert [counts.get(f"PS-00{number}") for number in range(1, 9)] == [12, 8, 4, None, None, None, 2, 2]
    assert counts["PS-041"] == 1 and counts["PS-052"] == 1 and sum(counts.values()) == 24 + sum(card.number("copies") for card in game.cards.values() if card.type != "starter")
    assert any("PS-004" in note for note in found.notes), "what is in no box is named"
    part = wanted(workspace, game, CardChoice(copies_from="box", query="type is Show"))
    assert len(part.cards) == part.copies == 9
    assert wanted(workspace, game, CardChoice(copies_from="box", cards="PS-001", copies=2)).copies == 2
    with pytest.raises(Refused, match="put no card on the table"):
        wanted(workspace, workspace.game("crowded-bed"), CardChoice(copies_from="box"))
