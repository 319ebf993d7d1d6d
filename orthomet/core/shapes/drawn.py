"""Pictures of a character's shapes: laid over the reference, lifted off, their final lines, filled black, taken step by step."""

from __future__ import annotations

from collections.abc import Container
from dataclasses import replace
from textwrap import wrap

import numpy as np
from shapely.geometry import LineString
from shapely.ops import unary_union

from ..kinds import Array
from ..picture import Ink, Layer, Picture, Text, Trace, moved
from .contour import box_round, polygon
from .model import stem_of
from .relations import tree, words
from .scene import Scene, bodies_of
from .seen import Seen

ROOM = 0.06
"""Paper round the shapes, a share of their larger side."""
PALE, DEEP = 0.2, 0.55
"""Tones under and over which a part is filled pale or deep."""
_PLANNED = (Ink.SHAPE_PALE, Ink.SHAPE_MID, Ink.SHAPE_DEEP)
_AS_SEEN = (Ink.SEEN_PALE, Ink.SEEN_MID, Ink.SEEN_DEEP)


def box_of(s: Scene) -> tuple[float, float, float, float]:
    """The shapes with a little paper round them."""
    x, y, w, h = s.box
    return box_round(np.array([[x, y], [x + w, y + h]]), ROOM)


def lifted(s: Scene, planned: bool = True, hidden: Container[str] = (), underlay: bool = False) -> Picture:
    """The shapes alone on paper, from the back to the front: as they are planned, or as they were seen.

    ``underlay``: every shape whole, in a light line, over what hides it.
    """
    layers = [_part(v, planned) for v in s.parts if v.part.id not in hidden]
    if underlay:
        layers.append(Layer("underlay", "Underlay", tuple(Trace(v.outline, Ink.GUIDE, True, name=v.part.name) for v in s.parts)))
    return Picture(tuple(layers), box_of(s), "Shapes")


def _part(v: Seen, planned: bool) -> Layer:
    o, plain = (v.outline, v.plain) if planned else (v.shape.outline(160), v.shape)
    fills = _PLANNED if planned else _AS_SEEN
    fill = fills[0 if v.part.tone < PALE else 2 if v.part.tone > DEEP else 1]
    name, line = v.part.name, Ink.CONTOUR if planned else Ink.SEEN
    items = [Trace(o, fill, True, True, name, plain=plain)]
    items += (
        [Trace(q, line, False, name=name) for q in _open(o, v)]
        if v.part.gap > 0
        else [Trace(o, line, True, name=name, plain=plain)]
    )
    return Layer(f"part-{v.part.id}", name, tuple(items))


def _open(o: Array, v: Seen) -> list[Array]:
    """An outline with its gap: an open C."""
    n = len(o)
    half = v.part.gap * n / 2
    middle = v.part.gap_at * n
    k = np.arange(int(np.ceil(middle + half)), int(np.floor(middle - half)) + n + 1)
    return [o[k % n]] if len(k) > 1 else []


def final(s: Scene) -> Picture:
    """The lines that stay: every outline stops where a nearer part crosses it, and is open where it was left open."""
    areas = [polygon(v.outline) for v in s.parts]
    layers = []
    for i, v in enumerate(s.parts):
        nearer = unary_union(areas[i + 1 :]) if i + 1 < len(areas) else None
        pieces: list[Array] = []
        for q in _open(v.outline, v) if v.part.gap > 0 else [np.vstack([v.outline, v.outline[:1]])]:
            left = LineString(q) if nearer is None else LineString(q).difference(nearer)
            pieces += [
                np.array(g.coords) for g in getattr(left, "geoms", [left]) if not g.is_empty and g.geom_type == "LineString"
            ]
        layers.append(
            Layer(f"part-{v.part.id}", v.part.name, tuple(Trace(q, Ink.CONTOUR, False, name=v.part.name) for q in pieces))
        )
    return Picture(tuple(layers), box_of(s), "Final lines")


def laid_over(s: Scene, contours: bool = True) -> Picture:
    """What is laid on the reference: traced contours thin, plain shapes over them, nothing filled."""
    layers = []
    for v in s.parts:
        items = [Trace(v.shape.outline(160), Ink.SEEN, True, name=v.part.name)]
        if contours and v.fits is not None:
            items.insert(0, Trace(v.contour, Ink.GUIDE_KEY, True, name=v.part.name))
        layers.append(Layer(f"part-{v.part.id}", v.part.name, tuple(items)))
    return Picture(tuple(layers), box_of(s), "Shapes on the picture")


def black(s: Scene, lit: Container[str] = (), only: Container[str] | None = None) -> Picture:
    """Filled black; what is lit stands out."""
    items = [
        Trace(v.outline, Ink.LIT if v.part.id in lit else Ink.BLACK, True, True, v.part.name, plain=v.plain)
        for v in s.parts
        if only is None or v.part.id in only
    ]
    chosen = [t.points for t in items]
    if not chosen:
        return Picture((), (0, 0, 1, 1), "Silhouette")
    return Picture((Layer("silhouette", "Silhouette", tuple(items)),), box_round(np.vstack(chosen), ROOM), "Silhouette")


def ticks(s: Scene) -> Layer:
    """Where relations hold, as short marks across a contact and thin lines between what is level, mirrored or aimed."""
    at = {v.part.id: v for v in s.parts}
    tall = s.box[3] or 1.0
    items: list[Trace | Text] = []
    for r in s.relations:
        p = [at[n] for n in r.parts if n in at]
        if len(p) < 2:
            continue
        a, b = p[0].outline, p[1].outline
        ma, mb = ((o.min(0) + o.max(0)) / 2 for o in (a, b))
        if r.kind in ("touches", "overlaps", "inside"):
            both = polygon(a).intersection(polygon(b))
            q = np.array(both.centroid.coords[0]) if both.area > 0 else (ma + mb) / 2
            d = mb - ma
            d = d / max(float(np.hypot(*d)), 1e-9) * 0.018 * tall
            n = np.array([-d[1], d[0]]) * 0.6
            items += [
                Trace(np.array([q - d, q + d]), Ink.TILT),
                *(Trace(np.array([q + e - n, q + e + n]), Ink.TILT) for e in (-d, d)),
            ]
        elif r.kind == "level":
            y = float(max(a[:, 1].max(), b[:, 1].max()))
            items.append(Trace(np.array([[ma[0], y], [mb[0], y]]), Ink.TILT))
        elif r.kind in ("mirrored", "aimed"):
            items.append(Trace(np.array([ma, mb]), Ink.TILT))
        elif r.kind in ("midway", "between", "row", "ring"):
            places = np.array([(v.outline.min(0) + v.outline.max(0)) / 2 for v in (p[1:] if r.kind == "ring" else p)])
            items.append(Trace(places if r.kind != "ring" else np.vstack([places, places[:1]]), Ink.TILT))
    return Layer("relations", "What holds", tuple(items))


def with_ticks(p: Picture, s: Scene) -> Picture:
    return replace(p, layers=(*p.layers, ticks(s)))


def order_of(s: Scene) -> list[Seen]:
    """The order a character is drawn in: the largest first, then what hangs on it, small things last."""
    if not s.parts:
        return []
    parent = tree(bodies_of(s))
    size = {v.part.id: float(np.prod(np.ptp(v.outline, axis=0))) for v in s.parts}

    def depth(n: str) -> int:
        k = 0
        while parent.get(n) and k < 99:
            n, k = parent[n], k + 1
        return k

    return sorted(s.parts, key=lambda v: (depth(v.part.id), -size[v.part.id]))


def steps(s: Scene) -> list[tuple[str, list[Seen]]]:
    """What is drawn in every step and how it is said: like parts at once."""
    names = {v.part.id: v.part.name for v in s.parts}
    out: list[tuple[str, list[Seen]]] = []
    for v in order_of(s):
        if out and out[-1][1][0].body.kind == v.body.kind and stem_of(out[-1][1][0].part.name) == stem_of(v.part.name):
            out[-1][1].append(v)
        else:
            out.append(("", [v]))
    told: list[tuple[str, list[Seen]]] = []
    drawn: set[str] = set()
    for _, parts in out:
        drawn |= {v.part.id for v in parts}
        first = parts[0]
        many = len(parts)
        kind = first.body.kind.replace("-", " ")
        stem = stem_of(first.part.name)
        some = f"{_NUMBERS.get(many, many)} {kind}s for the {_MANY.get(stem, f'{stem}s')}"
        what = f"{_article(kind)} for the {stem}" if many == 1 else some
        holds = next(
            (words(r, names) for r in s.relations if first.part.id == r.parts[0] and set(r.parts) <= drawn and r.kind in _SAID),
            "",
        )
        told.append((f"{what}; {holds}" if holds else what, parts))
    return told


_SAID = ("touches", "overlaps", "inside", "midway", "times", "aimed")
_MANY = {"foot": "feet", "tooth": "teeth"}
_NUMBERS = {2: "two", 3: "three", 4: "four", 5: "five", 6: "six"}


def _article(kind: str) -> str:
    return f"{'an' if kind[0] in 'aeiou' else 'a'} {kind}"


def steps_page(s: Scene, across: int = 3) -> Picture:
    """The steps side by side, numbered, each with what is new in a strong line and a sentence under it."""
    rows = steps(s)
    x, y, w, h = box_of(s)
    each_w, each_h = 1.12 * w, 1.06 * h + 0.3 * w
    layers: list[Layer] = []
    before: list[Seen] = []
    for k, (sentence, parts) in enumerate(rows):
        dx, dy = (k % across) * each_w, (k // across) * each_h
        items: list[Trace | Text] = [Trace(v.outline, Ink.GUIDE, True, name=v.part.name) for v in before]
        items += [Trace(v.outline, Ink.SHAPE_MID, True, True, v.part.name, plain=v.plain) for v in parts]
        items += [Trace(v.outline, Ink.CONTOUR, True, name=v.part.name, plain=v.plain) for v in parts]
        items.append(Text((x + 0.02 * w, y + 0.09 * w), str(k + 1), size=0.11 * w))
        items += [
            Text((x + w / 2, y + h + (0.08 + 0.075 * j) * w), line, size=0.062 * w, align=0)
            for j, line in enumerate(wrap(sentence, 32)[:3])
        ]
        one = moved(Picture((Layer(f"step-{k + 1}", f"Step {k + 1}: {sentence}", tuple(items)),), (x, y, w, h)), 1.0, dx, dy)
        layers += one.layers
        before += parts
    columns, lines = min(across, max(len(rows), 1)), -(-max(len(rows), 1) // across)
    return Picture(tuple(layers), (x, y, each_w * columns, each_h * lines), f"In {len(rows)} steps")
