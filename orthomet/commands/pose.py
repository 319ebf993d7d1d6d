"""``orthomet pose``: what a character's story asks of its body, and a picture's figure lifted to a pose."""

from __future__ import annotations

import argparse
from typing import Any

from ..core.errors import FormatError, quoted
from .common import headless_qt, print_json

FILES = (".svg", ".pdf", ".png", ".ora", ".json")


def arguments(q: argparse.ArgumentParser, number: Any) -> None:
    q.add_argument("source", nargs="?", metavar="PROJECT[:CHARACTER]|LANDMARKS.json")
    q.add_argument(
        "--do", metavar="ACTION[=X]", help="whether the body can do it, and what would help; “list” prints the actions"
    )
    q.add_argument(
        "--against", metavar="PROJECT[:CHARACTER]", help="lift figure landmarks to a pose of this character's own lengths"
    )
    q.add_argument(
        "--toward",
        action="append",
        default=[],
        metavar="SEGMENT",
        help="its outer end (of shoulders and hips the figure's left) is nearer to the viewer",
    )
    q.add_argument("--away", action="append", default=[], metavar="SEGMENT", help="its outer end is further away")
    q.add_argument("--as-drawn", action="store_true", help="what is drawn too long keeps its length")
    q.add_argument("--yaw", type=number, help="degrees the figure is turned in a drawing; usual: as the pose reads best")
    q.add_argument("--out", metavar="FILE.svg|.pdf|.png|.ora|.json", help="the posed figure as a drawing, or the pose as JSON")
    q.add_argument("--height-mm", type=number, default=200.0, metavar="MM", help="crown to floor of the standing figure")
    q.add_argument("--paper", default="fit", help="fit, A5, A4 or A3")
    q.add_argument("--pencil", type=str.casefold, default="blue", choices=["blue", "sanguine", "graphite"])
    q.add_argument("--line", default="ink", choices=["ink", "centre"], help="brush strokes with their widths, or plain pen lines")


def pose(o: argparse.Namespace) -> None:
    from ..core.pose.actions import ACTIONS
    from ..core.resolve import is_project

    if o.do is not None and o.do.casefold() == "list":
        print_json(list(ACTIONS))
        return
    if o.source is None:
        raise FormatError(
            "A pose needs PROJECT[:CHARACTER] and --do ACTION, or LANDMARKS.json and --against PROJECT[:CHARACTER]."
        )
    if o.out and not o.out.lower().endswith(FILES):
        raise FormatError(f"A pose is written as {', '.join(FILES)}; {quoted(o.out)} is none of them.")
    if not 10 <= o.height_mm <= 5000:
        raise FormatError(f"A figure is drawn 10 to 5000 mm tall; {o.height_mm:g} is outside.")
    if o.yaw is not None and abs(o.yaw) > 180:
        raise FormatError(f"The yaw runs from −180° to 180°; {o.yaw:g}° is outside.")
    if o.do is not None:
        if o.against is not None:
            raise FormatError("--do asks what a body can do, --against what a picture shows; one at a time.")
        if not is_project(o.source):
            raise FormatError(f"--do asks about a planned character; {quoted(o.source)} is no project.")
        _do(o)
    elif o.against is None:
        raise FormatError("Say what for: --do ACTION, or --against PROJECT[:CHARACTER] for a landmark file.")
    else:
        _lift(o)


def _person(text: str) -> tuple[Any, Any]:
    from ..core.people import person_of
    from .figure import of_project

    plan, head, _, pens = of_project(text, None)
    return person_of(plan, head), pens


def _do(o: argparse.Namespace) -> None:
    from ..core.pose.actions import asked, done

    action, amount = asked(o.do)
    shown, pens = _person(o.source)
    found = done(shown.mannequin.skeleton, action, amount)
    if o.out:
        _write(o, shown, found.pose, pens)
    if o.json:
        print_json({
            "action": found.action, "amount_hh": found.amount, "reachable": found.reachable, "short_by_hh": found.short_by,
            "changes": [{"reading": c.reading, "by": c.by, "also": dict(c.also), "words": c.words} for c in found.changes],
            "note": found.note, "say": found.words,
        })  # fmt: skip
        return
    print(found.words)
    for c in found.changes:
        print(f"With {c.words} it could.")


def _lift(o: argparse.Namespace) -> None:
    from ..core.pose.lift import lift
    from .common import read_points

    marks = read_points(o.source)
    if marks.view != "figure":
        raise FormatError(f"A pose is read from figure landmarks; {quoted(o.source)} shows a {marks.view}.")
    shown, pens = _person(o.against)
    told = {k.strip().casefold(): True for k in o.toward} | {k.strip().casefold(): False for k in o.away}
    found = lift(shown.mannequin.skeleton, marks, told, o.as_drawn)
    known = {x.name for x in found.segments}
    for name in told:
        if name not in known:
            raise FormatError(f"{quoted(name)} is no segment of this figure; it has {', '.join(sorted(known))}.")
    if o.out:
        _write(o, shown, found.pose, pens)
    if o.json:
        print_json({
            "joints": {k: list(v) for k, v in found.joints.items()},
            "segments": [
                {"name": x.name, "seen_hh": x.seen, "planned_hh": x.planned, "angle_deg": list(x.angle), "verdict": x.verdict.value, "over_hh": x.over}
                for x in found.segments
            ],
            "px_per_head": found.scale, "asked": list(found.asked), "pose": found.pose.model_dump(mode="json"),
        })  # fmt: skip
        return
    for x in found.segments:
        name = x.name.replace("_l", ", left").replace("_r", ", right").replace("_", " ")
        low, high = x.angle
        said = (
            f"too long by {x.over:.2f} heads"
            if x.over
            else "flat to the picture"
            if high < 3
            else f"turned {low:.0f} to {high:.0f}° out of the picture"
        )
        print(f"{name}: seen {x.seen:.2f} of {x.planned:.2f} heads, {said}.")


def _write(o: argparse.Namespace, shown: Any, wanted: Any, pens: Any) -> None:
    from ..core.export.page import page
    from ..core.figure.scene import picture
    from ..core.files import write_whole
    from ..core.landmarks.turn import Turn
    from ..core.pose.figure import posed_figure
    from ..core.pose.model import pose_text

    if o.out.lower().endswith(".json"):
        write_whole(o.out, pose_text(wanted).encode())
        return
    if not o.out.lower().endswith(".svg"):
        headless_qt()
    from ..app.render import write_page

    f = posed_figure(shown, wanted)
    drawn = picture(f, Turn(yaw=o.yaw) if o.yaw is not None else wanted.turn)
    head = o.height_mm / f.build.heads
    write_page(page(drawn, head, o.paper, "", pens.head_mm(head), o.line == "centre"), o.out, o.pencil)
