"""What all commands share: JSON out, NAME=NUMBER in, faces from files."""

from __future__ import annotations

import argparse
import json
import math
import sys
from typing import Any

from ..core.errors import FormatError


def number(text: str) -> float:
    v = float(text)
    if not math.isfinite(v):
        raise argparse.ArgumentTypeError(f"{text} is not an ordinary number")
    return v


def print_json(body: Any) -> None:
    json.dump(body, sys.stdout, ensure_ascii=False, indent=1, allow_nan=False)
    sys.stdout.write("\n")


def or_null(v: float | None) -> float | None:
    return None if v is None or not math.isfinite(v) else float(v)


def pairs(texts: list[str], flag: str) -> dict[str, float]:
    """Texts of the form NAME=NUMBER as a table."""
    out = {}
    for t in texts:
        key, _, value = t.partition("=")
        try:
            out[key.strip()] = number(value)
        except (ValueError, argparse.ArgumentTypeError):
            raise FormatError(f"{flag} wants NAME=NUMBER; “{t}” is not that.") from None
    return out


def read_face(path: str) -> Any:
    """Landmarks of a ``.json`` or ``.pts`` file."""
    from ..core.landmarks.files import read_landmarks
    from ..core.landmarks.pts import read_pts

    return read_pts(path) if path.lower().endswith(".pts") else read_landmarks(path)
