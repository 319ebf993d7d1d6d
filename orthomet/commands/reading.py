"""Reading faces from the command line: landmarks, measuring, styles and hands learned."""

from __future__ import annotations

import argparse
from dataclasses import replace
from typing import Any

from ..core.errors import FormatError, quoted
from .common import or_null, print_json, read_face, read_points, reference_of


def measure(o: argparse.Namespace) -> None:
    import numpy as np

    from ..core.landmarks.level import LevelBy
    from ..core.proportions.measure import measure
    from ..core.proportions.norms import z_scores
    from ..core.proportions.views import registry_of
    from ..core.references import trusted
    from ..core.resolve import norm_for

    marks, project, level = reference_of(o.landmarks, o.turn)
    turn = marks.undone
    reg = registry_of(marks.view, marks.spans)
    against = norm_for(o.norm, reg, project)
    m = measure(marks, reg, LevelBy(o.level_by) if o.level_by else level or LevelBy.CENTRE)
    stands = trusted(m, against)
    z = z_scores(m.values, against, m.registry)
    out = {}
    for i, r in enumerate(m.registry.readings):
        state = m.states[i]
        sure = m.sure(r.key)
        out[r.key] = {
            "value": m.value(r.key), "kind": str(r.kind), "norm": or_null(against.mean[i]), "sd": or_null(against.sd[i]),
            "z": or_null(z[i]) if sure else None, "state": str(state) if state else "not measured",
            "uncertainty": or_null(m.noise[i]) if state else None, **({"trusted": bool(stands[i])} if turn is not None else {}),
        }  # fmt: skip
    if o.json:
        print_json({
            "view": marks.view, "norm": against.name, **({"turn": turn.model_dump()} if turn is not None else {}), "readings": out,
        })  # fmt: skip
        return
    if turn is not None:
        print(f"Turned by yaw {turn.yaw:+.0f}°, pitch {turn.pitch:+.0f}°, roll {turn.roll:+.0f}°; that is undone."
              + (" Readings marked ? are told less surely than people differ." if not all(stands[np.isfinite(m.values)]) else ""))  # fmt: skip
    for r in m.registry.readings:
        v = out[r.key]
        if v["value"] is not None:
            z_text = f"{v['z']:+6.2f}" if v["z"] is not None else "      "
            doubt = "" if v.get("trusted", True) else "?"
            print(f"{r.label:26s} {v['value']:9.4f}{doubt}{r.unit[:1] if r.angle else ' '} {z_text}  {v['state']:10s} {r.key}")


def readings(o: argparse.Namespace) -> None:
    from ..core.proportions.norms import norm_over
    from ..core.proportions.views import registry_of

    reg = registry_of(o.view)
    n = norm_over("adult", reg)
    rows = [
        {"name": r.key, "label": r.label, "meaning": r.meaning, "kind": str(r.kind), "role": str(r.role), "group": r.group,
         "unit": r.unit, "norm": or_null(n.mean[i]), "sd": or_null(n.sd[i]), "source": n.sources[i], "needs": sorted(r.needs)}
        for i, r in enumerate(reg.readings)
    ]  # fmt: skip
    print_json(rows) if o.json else print("\n".join(f"{r['name']:28} {r['kind']:8} {r['label']}: {r['meaning']}" for r in rows))


def landmarks(o: argparse.Namespace) -> None:
    from ..core.files import write_whole
    from ..core.landmarks.files import landmarks_to_text
    from ..core.landmarks.pts import to_pts

    kind = o.out.lower().rsplit(".", 1)[-1]
    if kind not in ("json", "pts"):
        raise FormatError(f"Landmarks are written as .json or .pts; {quoted(o.out)} is neither.")
    more: dict[str, Any] = {}
    if o.auto:
        marks, more = _found(o.source, o.face)
    elif not o.source.lower().endswith((".json", ".pts")):
        raise FormatError(f"{o.source} is no landmark file. If it is a picture, add --auto to find the points.")
    else:
        marks = read_points(o.source)
    write_whole(o.out, (to_pts(marks) if kind == "pts" else landmarks_to_text(marks)).encode())
    unsure = sorted(n for n, s in marks.states.items() if str(s) == "estimated")
    if o.json:
        print_json({"out": o.out, "points": len(marks.points), "estimated": unsure, **more})
    elif more:
        t = more["turn"]
        print(f"{more['faces']} face(s); yaw {t['yaw']:+.0f}°, pitch {t['pitch']:+.0f}°, roll {t['roll']:+.0f}°. "
              f"{len(marks.points)} points, all estimated: correct and confirm them before measuring.")  # fmt: skip


def _found(path: str, face: int) -> tuple[Any, dict[str, Any]]:
    import numpy as np

    from ..core.auto import auto_landmarks
    from ..core.imaging.load import load_file

    rgb = np.ascontiguousarray(load_file(path)[1].pixels[..., :3])
    a = auto_landmarks(rgb, face - 1)
    boxes = [[round(v, 1) for v in f.box] for f in a.faces]
    return replace(a.marks, turn=a.turned), {
        "faces": len(a.faces),
        "face": face,
        "boxes": boxes,
        "turn": a.turn.model_dump(),
        "refined": sorted(a.moved),
    }


def style_learn(o: argparse.Namespace) -> None:
    from ..core.files import write_whole
    from ..core.proportions.measure import measure, side_by_side
    from ..core.resolve import norm_for
    from ..core.shapes.face import learned as learned_shapes
    from ..core.shapes.face import shapes_in
    from ..core.styles.learn import learn_style

    samples = [measure(read_face(p)) for p in o.landmarks]
    learned = learn_style(samples, o.name, norm_for(o.norm, side_by_side(samples)[0]))
    faces = [f for p, m in zip(o.landmarks, samples, strict=True) if (f := shapes_in(read_face(p), m.table)) is not None]
    style = learned.style.model_copy(update={"shapes": learned_shapes(faces) if faces else None})
    write_whole(o.out, (style.model_dump_json(indent=1) + "\n").encode())
    rows = {k: r.model_dump() for k, r in learned.style.readings.items()}
    if o.json:
        shapes = style.shapes.model_dump(mode="json") if style.shapes is not None else None
        print_json({"readings": rows, "two_periods": learned.two_periods, "shapes": shapes})
        return
    for k, r in rows.items():
        spread = "" if r["sd"] is None else f" ± {r['sd']:.4f}"
        print(f"{k:26s} {r['mean']:9.4f}{spread}{'   signature' if r['signature'] else ''}")
    if style.shapes is not None:
        print(style.shapes.words)
    if learned.two_periods:
        print("The drawings fall in two groups: two periods, or two hands?")


def hand_learn(o: argparse.Namespace) -> None:
    from ..core.proportions.measure import measure, side_by_side
    from ..core.resolve import norm_for
    from ..core.styles.hand import learn_hand

    pairs = []
    for text in o.pairs:
        ref, colon, drawing = text.partition(":")
        if not colon or not ref or not drawing:
            raise FormatError(f"A pair is REF.json:DRAWING.json; {quoted(text)} is not that.")
        pairs.append((measure(read_face(ref)), measure(read_face(drawing))))
    hand = learn_hand(pairs, norm_for(o.norm, side_by_side([m for pair in pairs for m in pair])[0]))
    rows = {
        k: {"habit": r.habit, "push": r.push, "n": r.n, "left": r.left, "push_error": r.push_error}
        for k, r in hand.readings.items()
    }
    if o.json:
        print_json({"pairs": hand.pairs, "readings": rows})
        return
    for k, v in rows.items():
        print(f"{k:26s} habit {v['habit']:+.4f}   push {'too few pairs' if v['push'] is None else format(v['push'], '.2f')}")
