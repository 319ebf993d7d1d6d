"""``orthomet shapes``: the plain shapes a contour or a mask comes down to, its readings; simplified, pushed, taken apart."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path
from typing import Any

from ..core.errors import FormatError, quoted
from .common import or_null, pairs, print_json

PICTURES = (".png", ".webp", ".tif", ".tiff", ".bmp", ".jpg", ".jpeg")
LARGEST = 1 << 27
"""Bytes of a contour file at most."""
FEW = 100
"""A contour of fewer points is a polygon: its corners stay among the points."""
MANY = 600
"""A contour of more points than this is pushed on so many of them."""


def arguments(q: argparse.ArgumentParser, number: Any) -> None:
    from ..core.shapes.plain import KINDS

    q.add_argument("source", metavar="CONTOUR.json|MASK.png")
    q.add_argument("--kinds", nargs="+", metavar="KIND", help=f"only these shapes: {', '.join(KINDS)}")
    q.add_argument("--detail", type=number, metavar="T", help="from the plain shape (0) to the whole contour (1)")
    q.add_argument("--push", nargs="+", metavar="TRAIT=E", help="push size, aspect, taper, angularity or roundness; 1 leaves it")
    q.add_argument("--norm", metavar="KIND", help="the shape it is pushed about; usual: a circle of the same area")
    q.add_argument("--parts", type=int, metavar="N", help="take the silhouette apart into at most N shapes")
    q.add_argument("--piece", type=int, metavar="N", help="which piece of a mask of several, the largest being 1")
    q.add_argument("--out", metavar="FILE.json|.svg", help="the simplified or pushed contour, or the shapes, as a file")


def shapes(o: argparse.Namespace) -> None:
    import numpy as np

    from ..core.shapes.contour import corners, evened, resampled, smoothed, with_points
    from ..core.shapes.fit import choose
    from ..core.shapes.head_class import head_class
    from ..core.shapes.plain import KINDS
    from ..core.shapes.readings import bumps, read

    _sound(o)
    given, mask, notes = _contour(o)
    c = with_points(given, 240) if len(given) < FEW else resampled(given, 240)
    kinds = [k.strip().casefold() for text in o.kinds or () for k in text.split(",") if k.strip()]
    for k in kinds:
        if k not in KINDS:
            raise FormatError(f"{quoted(k)} is no plain shape; they are {', '.join(KINDS)}.")
    choice = choose(c, tuple(dict.fromkeys(kinds)))
    found = corners(smoothed(c, 1.4))
    parts = _apart(o, given, mask) if o.parts is not None else None
    made = _made(o, given, c, found, choice.best.shape)
    said = head_class(evened(c)[0])
    r = read(given, found)
    if o.out:
        _write(o, made, parts, np)
    for note in notes:
        print(f"orthomet: {note}", file=sys.stderr)
    body: dict[str, Any] = {
        "best": choice.best.kind, "margin": choice.margin, "words": choice.words,
        "fits": [{"kind": f.kind, "params": f.shape.params, "iou": f.overlap, "score": f.score} for f in choice.fits],
        "head_class": said.name, "head_class_by": {"widths": said.by_widths.name, "shape": said.by_fits.name},
        "readings": {**{k: or_null(v) for k, v in r.items()}, "corners": len(found)},
        "spikes": [{"tip": list(b.tip), "clock": b.clock, "length": b.length, "width": b.width, "kind": b.kind} for b in bumps(given)],
    }  # fmt: skip
    if made is not None:
        body["limits"] = [{"trait": li.trait, "say": li.words} for li in made[2]]
        body["shown"] = made[1]
    if parts is not None:
        body |= {k: v for k, v in parts.items() if not k.startswith("_")}
    if o.json:
        print_json(body)
        return
    print(f"{choice.words}; as a head: {said.words}")
    for f in choice.fits[:3]:
        print(f"{f.kind:18} covers {f.overlap:.1%}")
    print(", ".join(f"{k.replace('_', ' ')} {v:.3g}" for k, v in r.items()))
    for b in bumps(given):
        print(b.words)
    if made is not None:
        for li in made[2]:
            print(f"limit: {li.words}")
    if parts is not None:
        print(f"{len(parts['parts'])} shapes cover {parts['parts_iou']:.1%}: {', '.join(p['kind'] for p in parts['parts'])}")
        for row in parts["relations"]:
            print(row["say"])


def _sound(o: argparse.Namespace) -> None:
    if o.detail is not None and not 0 <= o.detail <= 1:
        raise FormatError(f"Detail goes from 0 (the plain shape) to 1 (the contour); {o.detail:g} is outside.")
    if o.parts is not None and not 1 <= o.parts <= 24:
        raise FormatError(f"A silhouette is taken apart into 1 to 24 shapes; {o.parts} is outside.")
    if o.norm is not None and not o.push:
        raise FormatError("--norm is what --push goes from: say what is pushed.")
    if o.out:
        if not o.out.lower().endswith((".json", ".svg")):
            raise FormatError(f"A contour is written as .json or .svg; {quoted(o.out)} is neither.")
        if o.detail is None and not o.push and o.parts is None:
            raise FormatError("--out writes what --detail, --push or --parts makes: name one of them.")


def _contour(o: argparse.Namespace) -> tuple[Any, Any, list[str]]:
    """The contour as it is given, clockwise, the mask it comes from, where it does, and what is to be said of that."""
    from ..core.shapes.contour import clean, oriented

    if o.source.lower().endswith(PICTURES):
        return _of_picture(o)
    from ..core.datafiles import read_text
    from ..core.strict_json import parse_json

    name = Path(o.source).name
    body = parse_json(read_text(o.source, LARGEST, "a contour"), name)
    if not isinstance(body, dict) or not isinstance(body.get("points"), list):
        raise FormatError(f"{name} is no contour: it wants {{“points”: [[x, y], …]}}.")
    return oriented(clean(body["points"])), None, []


def _of_picture(o: argparse.Namespace) -> tuple[Any, Any, list[str]]:
    import numpy as np

    from ..core.files import read_file
    from ..core.imaging.load import load
    from ..core.shapes.masks import contour_of, holes, pieces

    name = Path(o.source).name
    rgba = load(read_file(o.source, LARGEST, "a picture"), name).pixels
    alpha = rgba[..., 3]
    light = rgba[..., :3].astype(int).sum(-1) > 3 * 127
    mask = alpha >= 128 if alpha.min() < 128 else light
    if not mask.any():
        raise FormatError(f"{name} is empty: the part is what is white, or what is not transparent.")
    found = pieces(mask)
    which = 1 if o.piece is None else o.piece
    if not 1 <= which <= len(found):
        raise FormatError(f"The mask has {len(found)} {'piece' if len(found) == 1 else 'pieces'}; there is no piece {which}.")
    m = np.asarray(found[which - 1])
    c = contour_of(m, 480)[0]
    notes = []
    if len(found) > 1 and o.piece is None:
        notes.append(f"the mask has {len(found)} pieces; the largest was taken (--piece N for another).")
    if holes(m):
        notes.append("the mask has holes; its outer contour was taken.")
    return c, m, notes


def _made(o: argparse.Namespace, given: Any, c: Any, found: Any, best: Any) -> tuple[Any, str, tuple[Any, ...], Any] | None:
    """The contour simplified, then pushed: points, words of the detail, limits, and the plain shape where it is one."""
    if o.detail is None and not o.push:
        return None
    from ..core.shapes.contour import evened, resampled, with_points
    from ..core.shapes.detail import Dial
    from ..core.shapes.push import TRAITS, pair, pushed

    shown, words, plain = given, "contour", None
    limits: tuple[Any, ...] = ()
    if o.detail is not None and o.detail < 1:
        c, even = evened(c)
        dial = Dial(c, found, best.outline(240), even)
        shown, words = dial.at(o.detail), dial.said(o.detail)
        plain = best if o.detail == 0 else None
        if plain is not None:
            shown = best.outline(240)
    if o.push:
        e = pairs(o.push, "--push")
        for k in e:
            if k not in TRAITS:
                raise FormatError(f"{quoted(k)} cannot be pushed; {', '.join(TRAITS)} can.")
        if any(v != 1 for v in e.values()):
            base = with_points(shown, 240) if len(shown) < FEW else shown if len(shown) <= MANY else resampled(shown, MANY)
            p = pushed(pair(base, _norm(o, base)), e)
            shown, limits, plain = p.outline, p.limits, None
    return shown, words, limits, plain


def _norm(o: argparse.Namespace, c: Any) -> Any:
    from ..core.shapes.contour import size_of
    from ..core.shapes.fit import fit
    from ..core.shapes.plain import KINDS, circle_of, made

    kind = (o.norm or "circle").casefold()
    if kind not in KINDS:
        raise FormatError(f"{quoted(kind)} is no plain shape; they are {', '.join(KINDS)}.")
    if kind == "circle":
        return circle_of(c).outline(240)
    s = fit(kind, c, upright=0).shape if kind != "capsule" else fit(kind, c).shape
    if s.height <= 0 or size_of(s.outline()) <= 0:
        s = made(kind, float(c[:, 0].mean()), float(c[:, 1].mean()), size_of(c), size_of(c))
    q = s.outline(240)
    middle = q.mean(0)
    return middle + (q - middle) * size_of(c) / size_of(q)


def _apart(o: argparse.Namespace, given: Any, mask: Any) -> dict[str, Any]:
    import numpy as np

    from ..core.shapes.apart import take_apart
    from ..core.shapes.masks import filled
    from ..core.shapes.relations import Body, found, words

    low, f = np.zeros(2), 1.0
    if mask is None:
        low = given.min(0)
        f = 400 / max(float(np.ptp(given, 0).max()), 1e-9)
        size = np.ceil(np.ptp(given, 0) * f).astype(int) + 9
        mask = filled((given - low) * f + 4, (int(size[1]), int(size[0])))
    a = take_apart(mask, o.parts)
    shapes = [_scaled(s, 1 / f, low - 4 / f) if f != 1 else s for s in a.shapes]
    bodies = [Body(f"part {k}", f"part {k}", s) for k, s in enumerate(shapes, 1)]
    names = {b.id: b.name for b in bodies}
    return {
        "parts": [{"name": b.name, "kind": b.shape.kind, "params": b.shape.params} for b in bodies], "parts_iou": a.overlap,
        "relations": [{"kind": r.kind, "parts": list(r.parts), "value": r.value, "say": words(r, names)} for r in found(bodies)],
        "_shapes": shapes,
    }  # fmt: skip


def _scaled(s: Any, f: float, by: Any) -> Any:
    import numpy as np

    from ..core.shapes.plain import KINDS, Plain

    p = s.p.copy()
    p[:2] = p[:2] * f + by
    p[3 : 3 + KINDS[s.kind].sizes] += np.log(f)
    return Plain(s.kind, p)


def _write(o: argparse.Namespace, made: Any, parts: dict[str, Any] | None, np: Any) -> None:
    from ..core.files import write_whole
    from ..core.shapes.svg import element, page_of, path

    style = 'fill="none" stroke="#1c2428" vector-effect="non-scaling-stroke"'
    if made is not None:
        points, _, _, plain = made
        if o.out.lower().endswith(".json"):
            text = json.dumps({"points": [[float(x), float(y)] for x, y in points]})
        else:
            text = page_of([element(plain, style) if plain is not None else path(points, style)], points, Path(o.source).stem)
    else:
        assert parts is not None
        if o.out.lower().endswith(".json"):
            text = json.dumps({k: v for k, v in parts.items() if not k.startswith("_")}, ensure_ascii=False)
        else:
            every = np.vstack([s.outline() for s in parts["_shapes"]])
            text = page_of([element(s, style) for s in parts["_shapes"]], every, Path(o.source).stem)
    write_whole(o.out, text.encode())
