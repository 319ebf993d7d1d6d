"""What all commands share: JSON out, NAME=NUMBER in, faces from files."""

from __future__ import annotations

import argparse
import json
import math
import os
import re
import sys
from typing import Any

from ..core.errors import FormatError, quoted

MAX_NAME = 80
"""As many as the line for a style's name takes."""


def title(text: str) -> str:
    """Something to call a thing by: a few letters, all of them whole."""
    called = text.strip()
    if not called or len(called) > MAX_NAME or re.search("[\ud800-\udfff]", called):
        raise argparse.ArgumentTypeError(f"it has to be called something, in up to {MAX_NAME} ordinary letters")
    return called


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
            raise FormatError(f"{flag} wants NAME=NUMBER; {quoted(t)} is not that.") from None
    return out


def read_face(path: str, turn: list[float] | None = None) -> Any:
    """Landmarks of a ``.json`` or ``.pts`` file to be measured: the file's own turn, or the one given, is undone."""
    from dataclasses import replace

    from ..core.references import straight

    marks = read_points(path)
    return straight(replace(marks, turn=turn_for(marks, turn)))


def reference_of(path: str, turn: list[float] | None, front: bool = False) -> tuple[Any, Any, Any]:
    """What is to be measured, straightened; the project it comes from, and how that levels it (``None`` for a file).

    From a project it is the reference the character has chosen, or, with ``front``, the face its plan follows.
    """
    from dataclasses import replace

    from ..core.references import flat, straight
    from ..core.resolve import find_character, is_project, split_project_name

    if not is_project(path):
        return read_face(path, turn), None, None
    from ..core.project.store import read

    file, name = split_project_name(path)
    stored = read(file)
    for sentence in stored.told:
        print(sentence, file=sys.stderr)
    c = find_character(stored, name)
    ref = c.face if front else c.reference
    if ref is None or not ref.marks.points:
        raise FormatError(f"{c.name} has no reference with landmarks to measure yet.")
    marks = flat(ref, c.spans)
    seen = replace(marks, turn=turn_for(replace(marks, turn=ref.turn), turn))
    return straight(seen, ref.distance_m), stored.project, ref.level_by


def turn_for(marks: Any, given: list[float] | None) -> Any:
    """The turn to be undone: ``--turn YAW PITCH ROLL``, else the file's own; ``None`` for a view that has none."""
    from pydantic import ValidationError

    from ..core.landmarks.turn import Turn

    if marks.view != "front":
        if given:
            raise FormatError(f"--turn is for faces from the front; this file shows a {marks.view}.")
        return None
    if not given:
        return marks.turn
    try:
        return Turn(yaw=given[0], pitch=given[1], roll=given[2])
    except ValidationError:
        raise FormatError("--turn wants yaw (−180 to 180), pitch (−80 to 80) and roll (−180 to 180) in degrees.") from None


def read_points(path: str) -> Any:
    """Landmarks of a ``.json`` or ``.pts`` file as they are."""
    from ..core.landmarks.files import read_landmarks
    from ..core.landmarks.pts import read_pts

    return read_pts(path) if path.lower().endswith(".pts") else read_landmarks(path)


def face_of(o: argparse.Namespace, needs: str) -> Any:
    """The face a drawing command is about: a landmark file, a project's character, or a style by itself."""
    from ..core.resolve import Face, complete, face_as_plan, is_project, plan_of_style, plan_points_of

    if bool(o.landmarks) == bool(o.style):
        raise FormatError(f"{needs} either a landmark file (or project), or --style NAME.")
    if o.style:
        p = plan_of_style(o.style)
        return Face(dict(p.table), p.points)
    if is_project(o.landmarks):
        return plan_points_of(o.landmarks)[0]
    return complete(face_as_plan(read_face(o.landmarks)))


def height_of(o: argparse.Namespace, face: Any) -> float:
    """Head height on paper, mm: as it is given, or from a feature that is drawn already (``--start FEATURE=MM``)."""
    from ..core.plan.start import head_height

    if not o.start:
        return float(o.height_mm)
    ((name, size),) = pairs([o.start], "--start").items()
    return head_height(name, size, face.points)


def headless_qt() -> None:
    """A painter needs an application object; without a display the offscreen platform serves."""
    from PySide6.QtGui import QGuiApplication

    if QGuiApplication.instance() is None:
        os.environ["QT_QPA_PLATFORM"] = "offscreen"
        _keep.append(QGuiApplication(["orthomet"]))
        from ..app.theme.fonts import load_fonts

        load_fonts()


_keep: list[Any] = []
