"""Poses that come with the program."""

from __future__ import annotations

from functools import cache
from importlib import resources
from pathlib import Path

from ..datafiles import Record, parse
from ..errors import UnknownName
from ..names import named
from .model import Pose, read_pose


class PoseTable(Record):
    source: str
    poses: tuple[Pose, ...]


@cache
def pose_table() -> PoseTable:
    text = resources.files("orthomet.core.pose.data").joinpath("poses.json").read_text(encoding="utf-8")
    return parse(PoseTable, text, "poses.json")


def poses() -> dict[str, Pose]:
    """By name, in the order they are shown."""
    return {p.name: p for p in pose_table().poses}


def pose(name: str) -> Pose:
    """A pose of the library, case aside.

    Raises
    ------
    UnknownName
    """
    known = poses()
    meant = named(name, ((n, n) for n in known))
    if meant is None:
        raise UnknownName("pose", name, list(known))
    return known[meant]


def pose_of(text: str) -> Pose:
    """A pose by the name of the library's, or out of a file whose name ends in ``.json``.

    Raises
    ------
    UnknownName, FormatError
    """
    return read_pose(text) if Path(text).suffix.casefold() == ".json" else pose(text)
