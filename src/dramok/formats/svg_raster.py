"""Render imported SVG in a separate process, so that memory or time limits affect only that process."""

from __future__ import annotations

import subprocess
import sys

MOST_SECONDS = 15
"""The CPU time limit in seconds for one drawing.

The slowest intended one (filters over all of it) takes about 3 on a common machine; slow machines take several
times as long and must render the same pictures.
"""
MOST_WAIT = 60
"""The wall clock limit in seconds: on a busy machine a drawing waits for its turn."""
MOST_MEMORY = 1_500 * 1024 * 1024
_DRAW = """
import os, resource, sys
os.nice(5)
resource.setrlimit(resource.RLIMIT_AS, (int(sys.argv[2]), int(sys.argv[2])))
resource.setrlimit(resource.RLIMIT_CPU, (int(sys.argv[3]), int(sys.argv[3])))
resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
import resvg
from xml.etree import ElementTree
text = sys.stdin.buffer.read().decode()
options = resvg.usvg.Options.default()
wide, high = resvg.usvg.Tree.from_str(text, options).int_size()
root = ElementTree.fromstring(text)
root.set("viewBox", root.get("viewBox") or f"0 0 {wide} {high}")
width = int(sys.argv[1])
root.set("width", str(width))
root.set("height", str(max(1, round(width * high / wide))))
tree = resvg.usvg.Tree.from_str(ElementTree.tostring(root, encoding="unicode"), options)
sys.stdout.buffer.write(resvg.render(tree, (1, 0, 0, 0, 1, 0)))
"""


class NotDrawn(ValueError):
    """The SVG can't be rendered within the limits."""


def draw_svg(svg: bytes, width: int) -> bytes:
    """PNG bytes of an SVG, `width` pixels wide. Raises NotDrawn."""
    limits = [str(MOST_MEMORY), str(MOST_SECONDS)]
    try:
        done = subprocess.run(
            [sys.executable, "-I", "-c", _DRAW, str(width), *limits],
            input=svg,
            capture_output=True,
            timeout=MOST_WAIT,
            check=False,
        )
    except subprocess.TimeoutExpired as error:
        raise NotDrawn("it takes too long to draw") from error
    if done.returncode or not done.stdout.startswith(b"\x89PNG"):
        said = done.stderr.decode(errors="replace").strip().splitlines()[-1:] or ["it can't be drawn"]
        raise NotDrawn(
            "it takes too much to draw" if done.returncode < 0 else said[0].rpartition(": ")[2][:80]
        )
    return done.stdout
