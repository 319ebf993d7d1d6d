"""``orthomet check``: a drawing against its plan, a style, the norm or itself; at any turn, any face it makes taken off first."""

from __future__ import annotations

import argparse
from dataclasses import replace
from typing import Any

from ..core.errors import FormatError
from .common import print_json


def arguments(q: argparse.ArgumentParser, number: Any) -> None:
    q.add_argument("drawing")
    q.add_argument("--against", metavar="LANDMARKS.json|PROJECT[:CHARACTER]", help="whose plan it is checked against")
    q.add_argument(
        "--basis",
        default="plan",
        metavar="plan|norm|style:NAME|school:NAME|self",
        help="what instead of a plan; self: only what a face owes itself",
    )
    q.add_argument(
        "--view",
        choices=["front", "turned", "profile", "figure"],
        help="usual: what the file says; turned: a head that looks elsewhere, whose pose is found",
    )
    q.add_argument(
        "--expression",
        default="",
        metavar="NAME|auto",
        help="the face the drawing makes, or auto: it is taken off before the check",
    )
    q.add_argument("--rivals", action="store_true", help="tell the next best cures, too")
    q.add_argument(
        "--noise", type=number, metavar="HEADS", help="how well the points are marked, as a share of the head; usual 0.003"
    )
    q.add_argument("--noise-px", type=number, help="the same in pixels of the drawing")


def check(o: argparse.Namespace) -> None:
    from ..core.check.basis import SELF
    from ..core.check.compare import FRONT_ON, TURNED, How, compare, compare_basis
    from ..core.landmarks.files import read_landmarks
    from ..core.resolve import plan_points_of

    if o.noise_px is not None and o.noise_px < 0:
        raise FormatError("The landmark noise is a number of pixels, zero or more.")
    if o.noise is not None and not 0 <= o.noise <= 0.05:
        raise FormatError("The landmark noise is a share of the head, from 0 to 0.05.")
    drawing = read_landmarks(o.drawing)
    if o.view and (o.view if o.view in ("figure", "profile") else "front") != drawing.view:
        raise FormatError(f"--view {o.view} does not fit: the file holds landmarks of a {drawing.view}.")
    if o.against is None and (o.basis.strip() == "plan" or drawing.view != "front"):
        raise FormatError("Say what it is checked against: --against LANDMARKS.json or PROJECT[:CHARACTER], or another --basis.")
    if drawing.view != "front":
        _check_view(o, drawing)
        return
    basis = o.basis.strip()
    how = How(o.view if o.view in (FRONT_ON, TURNED) else "", o.expression.strip(), noise_px=o.noise_px, noise=o.noise)
    shapes: list[dict[str, Any]] = []
    if basis == "plan":
        face, meant = plan_points_of(o.against)
        told = compare(drawing, face, meant, how)
        if told.plan is not None:
            shapes = _shape_rows(drawing, replace(face, points=told.plan))
    else:
        told = compare_basis(drawing, basis, how)
    c = told.check
    rivals = _rival_rows(c.fix)
    if o.json:
        print_json({
            "findings": [_finding_row(f) for f in c.findings],
            "passed": list(c.passed), "meant": list(c.meant), "noise": c.noise, "shapes": shapes, "basis": basis,
            "expression": told.expression,
            "pose": {"yaw": told.turn.yaw, "pitch": told.turn.pitch, "roll": told.turn.roll},
            **({"rivals": rivals} if o.rivals else {}),
            "fixes": _fix_rows(c.fix, c.px_per_head),
        })  # fmt: skip
        return
    if told.turned:
        print(_turn_words(told.turn) + (", its plan turned along." if basis != SELF else "."))
    if told.expression != "neutral":
        a_little = ", a little" if told.degree < 1 else ""
        print(f"It looks {told.expression}{a_little}: taken off before anything was judged.")
    for f in c.findings:
        print(f.say + ".")
    for row in shapes:
        print(f"{row['say']}.")
    _print_rivals(o, c)
    print(_counted(len(c.findings), len(c.passed)))


def _rival_rows(fix: Any) -> list[dict[str, Any]]:
    """The next best cures."""
    return [
        {
            "moves": [
                {"move": m.name, "amount_hh": a, "say": m.more if a > 0 else m.less}
                for m, a in zip(r.moves, r.amounts, strict=True)
            ],
            "score": r.score,
        }
        for r in fix.rivals
    ]


def _fix_rows(fix: Any, px_per_head: float) -> list[dict[str, Any]]:
    """The moves of the smallest fix."""
    return [
        {"move": m.name, "amount_hh": float(a), "amount_px": float(a) * px_per_head, "score": float(g)}
        for m, a, g in zip(fix.moves, fix.amounts, fix.gains, strict=True)
    ]


def _print_rivals(o: argparse.Namespace, c: Any) -> None:
    for r in _rival_rows(c.fix) if o.rivals and c.findings else ():
        print("Or: " + "; ".join(f"{m['say']} by {abs(m['amount_hh']):.3f} heads" for m in r["moves"]) + ".")


def _view_answer(c: Any, o: argparse.Namespace, **more: Any) -> None:
    """What the check of a profile or a figure found."""
    from ..core.check.cures import curable

    if o.json:
        print_json({
            "findings": [_finding_row(f) for f in c.findings],
            "passed": list(c.passed), "meant": list(c.meant), "noise": c.noise, "expression": "neutral",
            **({"rivals": _rival_rows(c.fix)} if o.rivals else {}),
            "fixes": _fix_rows(c.fix, curable(c).head), **more,
        })  # fmt: skip
        return
    for f in c.findings:
        print(f.say + ".")
    _print_rivals(o, c)
    print(_counted(len(c.findings), len(c.passed)))


def _counted(findings: int, passed: int) -> str:
    return f"{findings} {'finding' if findings == 1 else 'findings'}; {passed} readings pass."


def _turn_words(turn: Any) -> str:
    """“The head is turned 30° to the picture's right and looks 5° down”."""
    words = []
    for angle, more, less, verb in (
        (turn.yaw, "to the picture's right", "to the picture's left", "is turned"),
        (turn.pitch, "down", "up", "looks"),
    ):
        if round(abs(angle)):
            words.append(f"{verb} {abs(angle):.0f}° {more if angle > 0 else less}")
    return f"The head {' and '.join(words) or 'looks straight ahead'}"


def _shape_rows(drawing: Any, face: Any) -> list[dict[str, Any]]:
    """How the drawing's shapes differ from the plan's, by part."""
    from ..core.proportions.measure import measure
    from ..core.shapes.face import compared, shapes_in, shapes_of

    drawn = shapes_in(drawing, measure(drawing).table)
    found = compared(drawn, shapes_of(face.table, face.points)) if drawn is not None else []
    return [
        {"part": f.part, "trait": f.trait, "drawn": f.drawn, "planned": f.planned, "severity": f.severity, "say": f.words}
        for f in found
    ]


def _finding_row(f: Any) -> dict[str, Any]:
    return {
        "reading": f.reading, "kind": f.kind, "difference_hh": f.difference_hh, "difference_px": f.difference_px, "direction": f.direction,
        "tolerance": f.tolerance, "severity": f.severity, "explains": list(f.explains), "say": f.say,
    }  # fmt: skip


def _noise_of(o: argparse.Namespace, drawing: Any) -> float | None:
    """How well the points are marked, heads, as either way of saying it has it."""
    if o.noise is not None:
        return float(o.noise)
    if o.noise_px is None:
        return None
    top, chin = drawing.points.get("vertex"), drawing.points.get("gnathion")
    if top is None or chin is None:
        raise FormatError("--noise-px needs crown and chin on the drawing.")
    return float(o.noise_px / max(((top[0] - chin[0]) ** 2 + (top[1] - chin[1]) ** 2) ** 0.5, 1e-9))


def _check_view(o: argparse.Namespace, drawing: Any) -> None:
    from ..core.check.figure import FigureCheck
    from ..core.check.others import checked_view

    c = checked_view(drawing, o.against, (), _noise_of(o, drawing))
    if not isinstance(c, FigureCheck):
        _view_answer(c, o)
        return
    segments = [
        {"name": x.name, "seen_hh": x.seen, "planned_hh": x.planned, "angle_deg": list(x.angle), "verdict": x.verdict.value}
        for x in c.segments
    ]
    _view_answer(c, o, segments=segments, lines_deg=c.lines, pose_shown=c.stance.pose.name if c.stance is not None else None)
