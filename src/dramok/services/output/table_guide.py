"""Instructions for importing table sheets into a virtual table, with the numbers to enter."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from html import escape
from typing import Any

_STYLE = (
    "body{font:16px/1.5 system-ui,sans-serif;max-width:46rem;margin:2rem auto;padding:0 1rem;color:#22281f;background:#faf7ef}"
    "h1{font-size:1.5rem}h2{font-size:1.1rem;margin-top:2rem}table{border-collapse:collapse;width:100%}"
    "th,td{text-align:left;padding:.3rem .6rem;border-bottom:1px solid #ddd5c3;vertical-align:top}td.n{font-variant-numeric:tabular-nums;font-weight:600}"
)


def guide_lines(single: bool, entries: Sequence[Mapping[str, Any]]) -> Iterator[str]:
    """The settings to enter for each sheet, one line each."""
    if single:
        yield "Every card is a file of its own; cards.json says which is which."
        return
    for entry in entries:
        said = f"{entry['file']}: {entry['columns']} columns, {entry['rows']} rows, {entry['cards']} cards"
        hidden = entry["hidden"]
        if hidden and "place" in hidden:
            said += "; the last place is the hidden face"
        back = entry["backs"] or entry["back"]
        yield f"{said}; back: {back}" if back else said


def guide_page(game: str, title: str, single: bool, entries: Sequence[Mapping[str, Any]]) -> str:
    """The page with the instructions, stored in the archive."""
    body = "".join(_single(entries) if single else _sheets(entries))
    whole = title if title == game else f"{title}, {game}"
    return (
        f'<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>{escape(whole)}: how to bring it in</title>'
        f"<style>{_STYLE}</style><h1>{escape(whole)}: how to bring it in</h1>{body}</html>\n"
    )


def _sheets(entries: Sequence[Mapping[str, Any]]) -> Iterator[str]:
    hidden_last = any(entry["hidden"] and "place" in entry["hidden"] for entry in entries)
    hidden_apart = next((entry["hidden"]["file"] for entry in entries if entry["hidden"] and "file" in entry["hidden"]), None)  # fmt: skip
    yield (
        "<p>Each picture here is a sheet: many cards in columns and rows, read from the top left, row by row. "
        "A virtual table cuts it into cards by the numbers below, so enter them exactly.</p><ol>"
        "<li>Unpack the archive into a folder of its own.</li>"
        "<li>On your table, begin a new deck of your own making, and choose a sheet as the picture of its <b>faces</b>.</li>"
    )
    if any(entry["backs"] for entry in entries):
        yield "<li>As the picture of its <b>backs</b> choose the file that is named beside it below, and say that every card has a <b>back of its own</b>.</li>"
    elif any(entry["back"] for entry in entries):
        yield "<li>As the picture of its <b>back</b> choose the file that is named beside it below. It is one back for all cards.</li>"
    yield "<li>Enter the <b>columns</b> (across), the <b>rows</b> (down) and the <b>number of cards</b>. The number may be smaller than columns times rows: the places after it are empty.</li>"
    if hidden_last:
        yield "<li>The <b>last place</b> of each sheet is the hidden face: what others see of a card in somebody's hand. It is not a card, and is not among the number of cards. If your table asks for a hidden face of its own instead, use the back.</li>"
    if hidden_apart:
        yield f"<li>Where your table asks for a <b>hidden face</b>, choose <i>{escape(hidden_apart)}</i>.</li>"
    if any(entry["outline"] != "rectangle" for entry in entries):
        yield "<li>The cards are not all rectangles: choose the shape that is named below, where your table offers one.</li>"
    yield "<li>Do the same for each sheet, then put the decks on one pile if they belong together.</li></ol>"
    yield "<h2>What to enter</h2><table><tr><th>Faces</th><th>Columns</th><th>Rows</th><th>Cards</th><th>Back</th><th>Shape</th></tr>"
    for entry in entries:
        back = entry["backs"] or entry["back"] or "none"
        wide, high = entry["millimetres"]["width"], entry["millimetres"]["height"]
        yield (
            f"<tr><td>{escape(entry['file'])}</td><td class=n>{entry['columns']}</td><td class=n>{entry['rows']}</td><td class=n>{entry['cards']}</td>"
            f"<td>{escape(back)}</td><td>{entry['outline']}, {wide:g} x {high:g} mm</td></tr>"
        )
    yield "</table><h2>Which card is where</h2><p>The JSON file beside each sheet and the text table say it for programs; here it is for people.</p>"
    for entry in entries:
        yield f"<h2>{escape(entry['file'])}</h2><table><tr><th>Column</th><th>Row</th><th>Card</th><th>Copies</th></tr>"
        for at in entry["places"]:
            yield f"<tr><td class=n>{at['column']}</td><td class=n>{at['row']}</td><td>{escape(at['code'])} {escape(at['name'])}</td><td class=n>{at['copies']}</td></tr>"
        yield "</table>"


def _single(entries: Sequence[Mapping[str, Any]]) -> Iterator[str]:
    yield "<p>Every card is a file of its own. Bring them in one by one, or all at once where your table takes a folder of pictures.</p>"
    yield "<table><tr><th>File</th><th>Card</th><th>Copies</th><th>Back</th></tr>"
    for entry in entries:
        at = entry["places"][0]
        yield (
            f"<tr><td>{escape(entry['file'])}</td><td>{escape(at['code'])} {escape(at['name'])}</td><td class=n>{at['copies']}</td>"
            f"<td>{escape(entry['backs'] or entry['back'] or 'none')}</td></tr>"
        )
    yield "</table>"
