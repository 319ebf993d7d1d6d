"""A head that is none of ours: sections through published depths, a front painting laid over them, turned and seen again.

Neither the product's solid nor the demo painter's relief is used, so that what is read off it is an independent answer.
"""

from __future__ import annotations

import cv2
import numpy as np
from scipy.interpolate import PchipInterpolator

from orthomet.core.landmarks.turn import Turn, rotation

Truth = dict[str, tuple[float, float]]

NOSE = 0.087
"""How far the tip stands out, heads: nasal protrusion 20 of 230 mm (Farkas, from memory)."""


def _profile(y: np.ndarray, cheek: float, jaw: float) -> np.ndarray:
    """Depth of the midline, heads: forehead and face nearly plumb, the crown and the underside of the chin behind them."""
    at = [-0.06, 0, 0.06, 0.15, 0.30, 0.42, cheek, jaw, 0.93, 0.98, 1.0]
    return np.asarray(PchipInterpolator(at, [-0.36, -0.26, -0.13, -0.05, 0, 0, 0, 0.01, 0, -0.035, -0.09])(y))


def _forward(y: np.ndarray, cheek: float, jaw: float) -> np.ndarray:
    """From the widest place of each section to its front, heads.

    The cheekbones lie some 62 mm behind the face, the jaw's corners some 85, the braincase's widest place some 90, of a head
    of 230 mm (from memory of cephalometric averages).
    """
    at = [-0.06, 0, 0.06, 0.15, 0.30, 0.42, cheek, jaw, 0.93, 0.98, 1.0]
    return np.asarray(PchipInterpolator(at, [0.02, 0.10, 0.25, 0.34, 0.40, 0.36, 0.28, 0.37, 0.36, 0.30, 0.22])(y))


def _behind(y: np.ndarray, cheek: float, jaw: float) -> np.ndarray:
    """From the widest place to the back of the head, heads; below the ears there is only the jaw's own thickness."""
    return np.interp(
        y, [-0.06, 0, 0.1, 0.25, 0.45, cheek, 0.75, jaw, 1.0], [0.02, 0.12, 0.30, 0.41, 0.44, 0.40, 0.20, 0.10, 0.05]
    )


def seen_turned(front: np.ndarray, truth: Truth, yaw: float) -> np.ndarray:
    """The painting ``(h, w, 3)`` uint8, at half its size, as it looks on the sections, the head turned by ``yaw`` degrees."""
    front, truth = front[::2, ::2], {n: (x / 2, y / 2) for n, (x, y) in truth.items()}
    t = {k: np.array(v) for k, v in truth.items()}
    crown, cx = t["vertex"][1], (t["zygion_l"][0] + t["zygion_r"][0]) / 2
    hh = t["gnathion"][1] - crown

    def half(name: str) -> float:
        return float(abs(t[f"{name}_l"][0] - t[f"{name}_r"][0]) / 2 / hh)

    def station(name: str) -> float:
        return float((t[name][1] - crown) / hh)

    cheek, jaw = station("zygion_l"), station("gonion_l")
    brain = max(half("zygion") + 0.03, half("hair_side"))
    width = PchipInterpolator(
        [-0.06, 0, 0.12, 0.3, cheek, jaw, 0.93, 1.0],
        [0.02, 0.22, brain - 0.01, brain, half("zygion"), half("gonion"), 0.12, 0.015],
    )
    around, y = np.meshgrid(np.linspace(-0.98 * np.pi, 0.98 * np.pi, 1400), np.linspace(-0.06, 1.0, 750))
    ahead = np.cos(around) > 0
    x = width(y) * np.sin(around)
    forward = _forward(y, cheek, jaw)
    z = _profile(y, cheek, jaw) - forward + np.where(ahead, forward, _behind(y, cheek, jaw)) * np.cos(around) + 0.3
    z += ahead * _nose(x, y, station("endocanthion_l") - 0.01, station("subnasale"), half("alare"))
    eye = float(abs(t["exocanthion_l"][0] + t["endocanthion_l"][0] - 2 * cx) / 2 / hh)
    for side in (1, -1):
        z -= ahead * 0.03 * np.exp(-(((x - side * eye) / 0.07) ** 2) - ((y - station("endocanthion_l")) / 0.045) ** 2)
    points, pivot = np.stack([x, y, z], -1).reshape(-1, 3), np.array([0, 0.55, 0.0])
    return _splat(front, points, (points - pivot) @ rotation(Turn(yaw=yaw)).T + pivot, (cx, crown, hh))


def _nose(x: np.ndarray, y: np.ndarray, root: float, base: float, wing: float) -> np.ndarray:
    tip = base - 0.12 * (base - root)
    ridge = np.interp(y, [root - 0.02, root, tip, base, base + 0.01], [0, 0.1, 1, 0.35, 0]) * NOSE
    return np.asarray(ridge * np.clip(1 - np.abs(x) / (wing * np.interp(y, [root, base], [0.45, 1.0])), 0, 1))


def _splat(front: np.ndarray, on: np.ndarray, now: np.ndarray, frame: tuple[float, float, float]) -> np.ndarray:
    """Every point in its own colour, the near over the far; the neck stays where it was painted."""
    cx, crown, hh = frame
    h, w = front.shape[:2]

    def pixels(p: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        return (np.clip(np.round(o + p[:, k] * hh).astype(int), 0, most - 1) for k, (o, most) in enumerate(((cx, w), (crown, h))))  # type: ignore[return-value]

    near_last = np.argsort(now[:, 2])
    u, v = pixels(on[near_last])
    px, py = pixels(now[near_last])
    out = np.empty_like(front)
    out[:] = np.median(front[:40].reshape(-1, 3), 0).astype(np.uint8)
    out[int(crown + hh) :] = front[int(crown + hh) :]
    hit = np.zeros((h, w), np.uint8)
    out[py, px], hit[py, px] = front[v, u], 255
    holes = cv2.morphologyEx(hit, cv2.MORPH_CLOSE, np.ones((7, 7), np.uint8)) - hit
    return np.asarray(cv2.inpaint(out, holes, 3, cv2.INPAINT_TELEA))
