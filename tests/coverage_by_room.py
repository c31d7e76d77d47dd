"""Line and branch coverage of the tests, room by room: `make coverage`."""

from __future__ import annotations

import json
import sys
from collections import defaultdict

HEAD = ("room", "lines", "of", "%", "branches", "of", "%")


def main(path: str) -> None:
    """Reads `coverage json` and prints a line for each room; a file outside any room has its own line."""
    with open(path, encoding="utf-8") as file:
        files = json.load(file)["files"]
    rooms: dict[str, list[int]] = defaultdict(lambda: [0, 0, 0, 0])
    for name, found in files.items():
        parts = name.replace("\\", "/").partition("src/dramok/")[2].split("/")
        room = "/".join(parts[:2]) if parts[0] == "core" and len(parts) > 2 else parts[0]
        summary = found["summary"]
        counts = ("covered_lines", "num_statements", "covered_branches", "num_branches")
        for place, key in enumerate(counts):
            rooms[room][place] += summary[key]
            rooms["all"][place] += summary[key]
    print("{:<16}{:>7}{:>7}{:>7}{:>10}{:>7}{:>7}".format(*HEAD))
    for room, (lines, statements, taken, branches) in sorted(
        rooms.items(), key=lambda each: (each[0] == "all", each[0])
    ):
        share = [
            f"{100 * part / whole:.1f}" if whole else "–"
            for part, whole in ((lines, statements), (taken, branches))
        ]
        print(f"{room:<16}{lines:>7}{statements:>7}{share[0]:>7}{taken:>10}{branches:>7}{share[1]:>7}")


if __name__ == "__main__":
    main(sys.argv[1])
