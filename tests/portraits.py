"""Quickly painted portraits with known landmarks, for what is read off pictures."""

from __future__ import annotations

import hashlib
import os
from collections.abc import Callable
from functools import cache
from pathlib import Path

import numpy as np

from orthomet.core.imaging.load import load
from orthomet.core.landmarks.turn import Turn
from orthomet.demo import painting
from orthomet.demo.cast import face
from orthomet.demo.painting.paint import OUT, SITTERS
from orthomet.demo.painting.portrait import paint_portrait
from orthomet.demo.painting.relief import Sitter
from orthomet.demo.painting.turned import turn_painting

ROOT = Path(__file__).resolve().parent.parent
LOOKS = (("parted", (0.50, 0.55, 0.53)), ("swept", (0.56, 0.50, 0.42)), ("bob", (0.44, 0.52, 0.58)))
SKINS = (
    ((0.86, 0.69, 0.58), (0.46, 0.44, 0.42)), ((0.80, 0.62, 0.50), (0.30, 0.24, 0.19)),
    ((0.55, 0.38, 0.28), (0.12, 0.10, 0.09)), ((0.92, 0.78, 0.68), (0.70, 0.50, 0.30)),
)  # fmt: skip


KEPT = Path(__file__).resolve().parent.parent / ".pytest_cache" / "paintings"
Painted = tuple[np.ndarray, dict[str, tuple[float, float]]]


@cache
def _brush() -> str:
    """What a painting depends on beside its arguments: the painter's code, and the core's it paints by."""
    h = hashlib.sha256()
    for f in (
        Path(__file__),
        *sorted(Path(painting.__file__).parent.rglob("*.py")),
        *sorted((ROOT / "orthomet" / "core" / "head").glob("*.py")),
    ):
        h.update(f.read_bytes())
    return h.hexdigest()[:16]


def _kept(name: str, paint: Callable[[], Painted]) -> Painted:
    """Painted once for all processes and runs of the tests: a portrait takes seconds."""
    path = KEPT / f"{_brush()}-{name}.npz"
    if path.exists():
        with np.load(path) as z:
            return z["picture"], {str(n): (float(x), float(y)) for n, (x, y) in zip(z["names"], z["places"], strict=True)}
    picture, truth = paint()
    KEPT.mkdir(parents=True, exist_ok=True)
    for old in KEPT.glob("*.npz"):
        if not old.name.startswith(_brush()):
            old.unlink(missing_ok=True)
    part = path.with_name(f"{path.stem}.{os.getpid()}.npz")
    np.savez(part, picture=picture, names=np.array(list(truth)), places=np.array(list(truth.values())))
    part.replace(path)
    return picture, truth


@cache
def portrait(eye_width: float, seed: int) -> tuple[np.ndarray, dict[str, tuple[float, float]], dict[str, float]]:
    """A stranger with eyes of a known width (face widths), everything else drawn by the seed: picture, truth, traits."""
    rng = np.random.default_rng(seed)
    apart = rng.uniform(0.43, 0.50) if eye_width < 0.3 else rng.uniform(0.46, 0.50)
    t = face(
        eye_width_fw=eye_width, eye_gap_ew=apart / eye_width - 1, eye_opening_ew=rng.uniform(0.33, 0.5), iris_ew=rng.uniform(0.38, 0.48),
        mouth_width_fw=rng.uniform(0.26, 0.48), nose_width_fw=rng.uniform(0.18, 0.31), eye_station=rng.normal(0.515, 0.012),
        nose_base_station=rng.normal(0.70, 0.012), face_width_hh=rng.normal(0.6, 0.025),
    )  # fmt: skip
    t["brow_station"] = t["eye_station"] - 0.08 - max(0.0, eye_width - 0.24) * 0.25
    t["brow_length_ew"] = 1.4 if eye_width < 0.26 else 1.1
    t["head_width_hh"] = t["face_width_hh"] + 0.07
    skin, hair = SKINS[seed % 4]
    look, ground = LOOKS[seed % 3]
    s = Sitter(
        t, age=rng.uniform(0, 0.8), skin=skin, hair=hair, brow=tuple(0.8 * v for v in hair), iris=tuple(rng.uniform(0.2, 0.55, 3)),
        extra={"hair_top": -0.06, "parting": 0, "parting_t": 0.05, "hair_side": 0.4},
    )  # fmt: skip
    picture, truth = _kept(f"stranger-{eye_width}-{seed}", lambda: paint_portrait(s, look, "", ground, seed, quick=True))
    return picture, truth, t


@cache
def shipped(name: str) -> np.ndarray:
    """A picture of the demo as pixels."""
    return np.ascontiguousarray(load((OUT / f"{name}.jpg").read_bytes()).pixels[..., :3])


@cache
def turned(name: str, yaw: float, pitch: float, roll: float) -> tuple[np.ndarray, dict[str, tuple[float, float]]]:
    """A sitter of the demo with the head turned by known angles."""
    turn = Turn(yaw=yaw, pitch=pitch, roll=roll)
    return _kept(f"{name}-{yaw}-{pitch}-{roll}", lambda: turn_painting(SITTERS[name][0], shipped(name), turn, 1.2))
