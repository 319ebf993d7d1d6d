"""``orthomet head``: a head at any turn, as numbers and as a drawing."""

from __future__ import annotations

import argparse
from dataclasses import replace
from typing import Any

from ..core.errors import FormatError, quoted
from .common import face_of, headless_qt, height_of, pairs, print_json

YAW, PITCH, ROLL = 100.0, 60.0, 180.0
FILES = (".svg", ".pdf", ".png", ".ora")


def arguments(q: argparse.ArgumentParser, number: Any) -> None:
    q.add_argument("landmarks", nargs="?", help="a landmark file, or PROJECT[:CHARACTER]")
    q.add_argument("--style")
    q.add_argument("--yaw", type=number, default=0.0, help="degrees, positive turns the nose to the picture's right; ±100")
    q.add_argument("--pitch", type=number, default=0.0, help="degrees, positive looks down; ±60")
    q.add_argument("--roll", type=number, default=0.0, help="degrees, positive is clockwise")
    q.add_argument("--chin", type=number, metavar="HEADS", help="chin forward (back: negative), ±0.08")
    q.add_argument("--school", metavar="NAME", help="a guide school's lines round the head instead of the plan's own")
    q.add_argument(
        "--set", action="append", default=[], metavar="SETTING=VALUE", help="a setting of the school, or hair.PARAMETER=VALUE"
    )
    q.add_argument("--expression", metavar="NAME", help="neutral, glad, sad, angry, surprised or sly; never moves the plan")
    q.add_argument("--distance", type=number, metavar="HEADS", help="from the viewer, for perspective; 2 to 100")
    q.add_argument("--expressions", action="store_true", help="draw the expression sheet instead of one view")
    q.add_argument(
        "--light",
        nargs=2,
        type=number,
        metavar=("ACROSS", "ABOVE"),
        help="two-tone shadows for a light, degrees to the viewer's right and above",
    )
    q.add_argument("--hair", metavar="NAME", help="a hairstyle instead of the character's own; “list” prints their names")
    q.add_argument("--no-hair", "--bald", dest="bald", action="store_true", help="the skull without its hair")
    q.add_argument("--line", default="ink", choices=["ink", "centre"], help="brush strokes with their widths, or plain pen lines")
    q.add_argument("--out", metavar="FILE.svg|.pdf|.png|.ora")
    q.add_argument("--turnaround", action="store_true", help="draw seven views in a row instead of one")
    q.add_argument("--height-mm", type=number, default=120.0, help="head height, crown to chin")
    q.add_argument("--start", metavar="FEATURE=MM", help="start from a feature drawn already, as eye=14; sets the height")
    q.add_argument("--paper", default="fit", help="fit, A5, A4 or A3")
    q.add_argument("--pencil", type=str.casefold, default="blue", choices=["blue", "sanguine", "graphite"])


def head(o: argparse.Namespace) -> None:
    from ..core.export.page import page
    from ..core.features.expression import expression
    from ..core.features.table import feature
    from ..core.head.body import Wear, body
    from ..core.head.drawn import picture
    from ..core.head.scene import scene_of
    from ..core.head.shadow import light_at, with_shadow
    from ..core.head.turnaround import expression_sheet, turnaround
    from ..core.landmarks.turn import Turn
    from ..core.styles.schools import school

    if o.hair is not None and o.hair.casefold() == "list":
        print_json([v.name for v in feature("hair").variants])
        return
    for name, most in (("yaw", YAW), ("pitch", PITCH), ("roll", ROLL)):
        if abs(getattr(o, name)) > most:
            raise FormatError(f"The {name} runs from −{most:g}° to {most:g}°; {getattr(o, name):g}° is outside.")
    if abs(o.chin or 0.0) > 0.08:
        raise FormatError(f"The chin moves by up to 0.08 heads; {o.chin:g} is more.")
    if o.out and not o.out.lower().endswith(FILES):
        raise FormatError(f"A head is written as {', '.join(FILES)}; {quoted(o.out)} is none of them.")
    if not o.out and not o.json:
        raise FormatError("Name a file with --out, or ask for numbers with --json.")
    if o.distance is not None and not 2 <= o.distance <= 100:
        raise FormatError(f"The distance runs from 2 to 100 heads; {o.distance:g} is outside.")
    light = light_at(*o.light) if o.light else None
    settings, hair = _settings(o.set)
    face = face_of(o, "A head needs")
    worn = expression(o.expression) if o.expression else face.expression
    chin = face.chin_forward if o.chin is None else o.chin
    choices = _dressed(face.choices, o.hair, hair)
    wear = Wear(chin, choices, worn, school(o.school).name if o.school else "", settings, not o.bald, face.pens, face.side)
    b = body(face.table, face.points, wear)
    turn = Turn(yaw=o.yaw, pitch=o.pitch, roll=o.roll)
    s = scene_of(b, turn, o.distance)
    if o.out:
        if not o.out.lower().endswith(".svg"):
            headless_qt()
        from ..app.render import write_page

        if o.turnaround:
            drawn = turnaround(b)
        elif o.expressions:
            drawn = expression_sheet(face.table, face.points, wear, turn)
        else:
            drawn = picture(s)
            if light is not None:
                drawn = with_shadow(drawn, s, light)
        height = height_of(o, face)
        write_page(page(drawn, height, o.paper, "", face.pens.head_mm(height), o.line == "centre"), o.out, o.pencil)
    if o.json:
        strokes = s.drawing.strokes
        hair_marks = {n: s.landmarks[n] for n in (b.hair.landmarks if b.hair is not None else ())}
        if b.hair is not None:  # numbers are of the head itself; hair only hides it in the drawing
            s = scene_of(body(face.table, face.points, replace(wear, hair=False)), turn, o.distance)
        marks = s.landmarks | hair_marks
        print_json({
            "landmarks": {n: {"xy": [xy[0], xy[1]], "visible": seen} for n, (xy, seen) in marks.items()},
            "guides": {g.name: {"points": g.points.tolist(), "visible": g.visible.tolist()} for _, g in s.guides},
            "contour": s.outline.tolist(),
            "strokes": [{"kind": x.pen.value, "points": x.points.tolist(), "widths": x.widths.tolist()} for x in strokes],
        })  # fmt: skip


HAIR = "hair."


def _settings(texts: list[str]) -> tuple[dict[str, float], dict[str, float]]:
    """Settings of the school, and of the hair."""
    given = pairs(texts, "--set")
    hair = {k[len(HAIR) :]: v for k, v in given.items() if k.startswith(HAIR)}
    return {k: v for k, v in given.items() if not k.startswith(HAIR)}, hair


def _dressed(choices: Any, name: str | None, changes: dict[str, float]) -> Any:
    """Feature choices with a hairstyle by name, and parameters of it."""
    from ..core.errors import UnknownName
    from ..core.features.table import feature
    from ..core.names import named

    hair = feature("hair")
    row = dict(choices.of("hair"))
    if name is not None:
        known = {v.name: v.set for v in hair.variants}
        meant = named(name, ((n, n) for n in known))
        if meant is None:
            raise UnknownName("hairstyle", name, list(known))
        row = {**hair.defaults(), **known[meant]}
    for key, value in changes.items():
        p = hair.parameter(key)
        if p is None:
            raise UnknownName("parameter of the hair", key, [q.key for q in hair.parameters])
        if not p.low <= value <= p.high:
            raise FormatError(f"{p.words} runs from {p.low:g} to {p.high:g}; {value:g} is outside.")
        row[key] = value
    return choices if name is None and not changes else choices.with_values("hair", row).with_absent("hair", False)
