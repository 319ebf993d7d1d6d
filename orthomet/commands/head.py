"""``orthomet head``: a head at any turn, as numbers and as a drawing."""

from __future__ import annotations

import argparse
from typing import Any

from ..core.errors import FormatError
from .common import face_of, headless_qt, print_json

YAW, PITCH, ROLL = 100.0, 60.0, 180.0
FILES = (".svg", ".pdf", ".png", ".ora")


def arguments(q: argparse.ArgumentParser, number: Any) -> None:
    q.add_argument("landmarks", nargs="?", help="a landmark file, or PROJECT[:CHARACTER]")
    q.add_argument("--style")
    q.add_argument("--yaw", type=number, default=0.0, help="degrees, positive turns the nose to the picture's right; ±100")
    q.add_argument("--pitch", type=number, default=0.0, help="degrees, positive looks down; ±60")
    q.add_argument("--roll", type=number, default=0.0, help="degrees, positive is clockwise")
    q.add_argument("--chin", type=number, default=0.0, metavar="HEADS", help="chin forward (back: negative), ±0.08")
    q.add_argument("--out", metavar="FILE.svg|.pdf|.png|.ora")
    q.add_argument("--turnaround", action="store_true", help="draw seven views in a row instead of one")
    q.add_argument("--height-mm", type=number, default=120.0, help="head height, crown to chin")
    q.add_argument("--paper", default="fit", help="fit, A5, A4 or A3")
    q.add_argument("--pencil", default="blue", choices=["blue", "sanguine", "graphite"])


def head(o: argparse.Namespace) -> None:
    from ..core.export.page import page
    from ..core.head.scene import body, picture, scene_of
    from ..core.head.turnaround import turnaround
    from ..core.landmarks.turn import Turn

    for name, most in (("yaw", YAW), ("pitch", PITCH), ("roll", ROLL)):
        if abs(getattr(o, name)) > most:
            raise FormatError(f"The {name} runs from −{most:g}° to {most:g}°; {getattr(o, name):g}° is outside.")
    if abs(o.chin) > 0.08:
        raise FormatError(f"The chin moves by up to 0.08 heads; {o.chin:g} is more.")
    if o.out and not o.out.lower().endswith(FILES):
        raise FormatError(f"A head is written as {', '.join(FILES)}; “{o.out}” is none of them.")
    if not o.out and not o.json:
        raise FormatError("Name a file with --out, or ask for numbers with --json.")
    face = face_of(o, "A head needs")
    b = body(face.table, face.points, o.chin)
    s = scene_of(b, Turn(yaw=o.yaw, pitch=o.pitch, roll=o.roll))
    if o.out:
        if not o.out.lower().endswith(".svg"):
            headless_qt()
        from ..app.render import write_page

        write_page(page(turnaround(b) if o.turnaround else picture(s), o.height_mm, o.paper), o.out, o.pencil)
    if o.json:
        print_json({
            "landmarks": {n: {"xy": [xy[0], xy[1]], "visible": seen} for n, (xy, seen) in s.landmarks.items()},
            "guides": {g.name: {"points": g.points.tolist(), "visible": g.visible.tolist()} for g in s.guides},
            "contour": s.outline.tolist(),
        })  # fmt: skip
