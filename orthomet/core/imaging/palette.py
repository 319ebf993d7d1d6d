"""Main colours of a reference by area, in CIELAB: each with its edge and centre tone, a ramp, a complement.

Clusters by k-means (Lloyd 1982) over a sample of the pixels; what lies nearer than ΔE 12 (CIE 1976) is one colour. Lightness,
chroma and hue after CIE 15:2004, D65.
"""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ..errors import PictureError
from ..kinds import Array

SAMPLE = 60_000
ONE_COLOUR = 12.0
"""Colours nearer than this ΔE count as one (own; about what an eye calls the same paint in light and half-light)."""
STARTS = 14
LEAST_SHARE = 0.004
REGION_SIDE = 320
DARK, PUSH = 0.62, 6.0
"""A ramp's dark keeps this share of the lightness and loses this much more: darks are pushed (own)."""


@dataclass(frozen=True)
class Tone:
    """One colour of a picture, its share of the area, and the tones at the border and in the middle of its regions."""

    colour: str
    share: float
    edge: str
    centre: str


def to_lab(rgb: Array) -> Array:
    """CIELAB (D65) of sRGB values 0–255, shape ``(..., 3)``."""
    import cv2

    flat = np.asarray(rgb, np.float32).reshape(1, -1, 3) / 255
    return np.asarray(cv2.cvtColor(flat, cv2.COLOR_RGB2LAB).reshape(np.shape(rgb)))


def to_rgb(lab: Array) -> Array:
    """sRGB values 0–255 of CIELAB; what lies outside the gamut is brought in by less chroma at the same lightness and hue."""
    import cv2

    out = np.asarray(lab, np.float32).reshape(-1, 3).copy()
    low: Array = np.zeros(len(out), np.float32)
    high: Array = np.ones(len(out), np.float32)
    for _ in range(12):
        mid = (low + high) / 2
        ok = _inside(np.column_stack([out[:, 0], out[:, 1] * mid, out[:, 2] * mid]))
        low, high = np.where(ok, mid, low), np.where(ok, high, mid)
    k = np.where(_inside(out), 1.0, low)
    rgb = cv2.cvtColor(np.column_stack([out[:, 0], out[:, 1] * k, out[:, 2] * k]).astype(np.float32)[None], cv2.COLOR_LAB2RGB)[0]
    return np.asarray(np.clip(np.round(rgb * 255), 0, 255).reshape(np.shape(lab)))


def _inside(lab: Array) -> Array:
    """Whether colours lie in sRGB: there and back they stay themselves."""
    import cv2

    there = np.clip(cv2.cvtColor(lab.astype(np.float32)[None], cv2.COLOR_LAB2RGB), 0, 1)
    back = cv2.cvtColor(there, cv2.COLOR_RGB2LAB)[0]
    return np.asarray(np.abs(back - lab).max(1) < 0.6)


def hex_of(lab: Array) -> str:
    r, g, b = (int(v) for v in to_rgb(np.asarray(lab, float)))
    return f"#{r:02x}{g:02x}{b:02x}"


def lab_of(colour: str) -> Array:
    """CIELAB of ``#rrggbb``."""
    return to_lab(np.array([int(colour[k : k + 2], 16) for k in (1, 3, 5)], float))


def palette(rgba: Array, most: int = 8, say: Callable[[str], bool] | None = None) -> list[Tone]:
    """Main colours of a picture ``(h, w, 3 or 4)`` uint8, largest first; transparent pixels do not count.

    Raises
    ------
    PictureError
        Nothing to see, or stopped.
    """
    step = max(1, int(np.sqrt(rgba.shape[0] * rgba.shape[1] / SAMPLE)))
    sample = rgba[::step, ::step]
    solid = sample[..., 3] > 127 if rgba.shape[2] == 4 else np.ones(sample.shape[:2], bool)
    if solid.sum() < 4:
        raise PictureError("There is no colour to take: the picture is transparent.")
    if say is not None and not say("Sorting the colours…"):
        raise PictureError("Stopped.")
    lab = to_lab(sample[..., :3])
    middle, share = _clusters(lab[solid].reshape(-1, 3), most)
    if say is not None and not say("Looking at edges and middles…"):
        raise PictureError("Stopped.")
    edges, centres = _edge_and_centre(rgba, middle)
    rows = zip(middle, share, edges, centres, strict=True)
    return [Tone(hex_of(m), round(float(s), 4), hex_of(e), hex_of(c)) for m, s, e, c in rows]


def _clusters(lab: Array, most: int) -> tuple[Array, Array]:
    import cv2

    k = min(STARTS, len(lab))
    rule = (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_MAX_ITER, 24, 0.4)
    cv2.setRNGSeed(7)
    _, label, centre = cv2.kmeans(lab.astype(np.float32), k, None, rule, 1, cv2.KMEANS_PP_CENTERS)  # type: ignore[call-overload]
    count = np.bincount(label.ravel(), minlength=k).astype(float)
    middle, share = list(centre.astype(float)), list(count / count.sum())
    while len(middle) > 1:
        d = np.linalg.norm(np.array(middle)[:, None] - np.array(middle)[None], axis=2)
        np.fill_diagonal(d, np.inf)
        i, j = np.unravel_index(int(d.argmin()), d.shape)
        if d[i, j] > ONE_COLOUR and len(middle) <= most:
            break
        total = share[i] + share[j]
        middle[i] = (middle[i] * share[i] + middle[j] * share[j]) / total
        share[i] = total
        del middle[int(j)], share[int(j)]
    order = [i for i in np.argsort(-np.array(share)) if share[i] >= LEAST_SHARE]
    return np.array(middle)[order], np.array(share)[order]


def _edge_and_centre(rgba: Array, middle: Array) -> tuple[list[Array], list[Array]]:
    """Tones of each colour near its regions' borders and deep inside them."""
    import cv2

    k = min(1.0, REGION_SIDE / max(rgba.shape[:2]))
    small = cv2.resize(rgba[..., :3], None, fx=k, fy=k, interpolation=cv2.INTER_AREA) if k < 1 else rgba[..., :3]
    lab = to_lab(small)
    nearest = np.linalg.norm(lab[..., None, :] - middle.astype(np.float32), axis=3).argmin(2)
    edges, centres = [], []
    for i, m in enumerate(middle):
        mask = (nearest == i).astype(np.uint8)
        depth = cv2.distanceTransform(np.pad(mask, 1), cv2.DIST_L2, 3)[1:-1, 1:-1]
        inside = depth[mask > 0]
        if len(inside) < 12:
            edges.append(m)
            centres.append(m)
            continue
        pixels = lab[mask > 0]
        edges.append(np.median(pixels[inside <= np.quantile(inside, 0.3)], axis=0))
        centres.append(np.median(pixels[inside >= np.quantile(inside, 0.7)], axis=0))
    return edges, centres


def ramp(colour: str) -> tuple[str, str]:
    """Two values for flat shading, light and dark; the dark is pushed and a little richer."""
    lab = lab_of(colour)
    dark = np.array([max(0.0, lab[0] * DARK - PUSH), lab[1] * 1.08, lab[2] * 1.08])
    return colour, hex_of(dark)


def complement(colour: str) -> str:
    """The colour opposite in hue, of the same lightness and chroma as far as the screen has it.

    >>> complement("#808080")
    '#808080'
    """
    lab = lab_of(colour)
    return hex_of(np.array([lab[0], -lab[1], -lab[2]]))


def saturated(colour: str, k: float) -> str:
    """The colour with its chroma times ``k`` (0 grey, 1 itself)."""
    lab = lab_of(colour)
    return colour if k == 1 else hex_of(np.array([lab[0], lab[1] * k, lab[2] * k]))


def difference(a: str, b: str) -> float:
    """ΔE (CIE 1976) between two colours."""
    return float(np.linalg.norm(lab_of(a) - lab_of(b)))


def css(rows: list[tuple[str, str, str, str]], title: str) -> str:
    """Custom properties of named swatches ``(name, colour, edge, centre)``."""
    lines = [f"/* {title.replace('*/', '')} */", ":root {"]
    used: set[str] = set()
    for name, colour, edge, centre in rows:
        slug = "-".join("".join(c if c.isalnum() else " " for c in name.casefold()).split()) or "colour"
        base, n = slug, 2
        while slug in used:
            slug, n = f"{base}-{n}", n + 1
        used.add(slug)
        light, dark = ramp(colour)
        lines += [
            f"  --{slug}: {light};",
            f"  --{slug}-edge: {edge};",
            f"  --{slug}-centre: {centre};",
            f"  --{slug}-dark: {dark};",
        ]
    return "\n".join([*lines, "}", ""])


def as_json(rows: list[dict[str, object]], title: str) -> str:
    return json.dumps({"title": title, "swatches": rows}, ensure_ascii=False, indent=1) + "\n"
