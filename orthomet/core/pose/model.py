"""A pose as a value: joint angles, and ends held to places of the body or the floor. It knows no lengths: any figure can take it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from pathlib import Path
from typing import Annotated, Literal

from pydantic import AfterValidator, Field, field_validator, model_validator

from ..datafiles import Record, parse, read_text
from ..errors import OrthometError
from ..landmarks.turn import Turn

LARGEST = 1 << 18
"""Bytes a pose file has at most."""
_TRUNK = ("forward", "aside", "turn")
_ROOT = ("forward", "aside", "twist")
_PAIRED = {
    "clavicle": ("up", "forward"), "arm": _ROOT, "elbow": ("bend",), "wrist": ("turn", "forward", "aside"), "fingers": ("curl",),
    "thigh": _ROOT, "knee": ("bend",), "foot": ("pitch", "turn"), "toes": ("bend",),
}  # fmt: skip
ANGLES: Mapping[str, tuple[str, ...]] = {k: _TRUNK for k in ("pelvis", "spine", "neck", "head")} | {
    f"{k}_{side}": v for side in "lr" for k, v in _PAIRED.items()
}
"""Joint → what its angles are, degrees. Of the trunk: leaning forward, leaning to the figure's left, turning to its left. Of a limb's
root: swung forward, swung outward, twisted so that the front comes outward. Both sides count outward alike."""
ENDS = ("wrist_l", "wrist_r", "ankle_l", "ankle_r")
PLACES = ("floor", "pelvis", "chest", "head", "thigh_l", "thigh_r")
MOST = 360.0


FURTHEST = 1000.0
"""Body lengths a place lies away at most: legs may be next to nothing."""


def _within(v: tuple[float, float, float]) -> tuple[float, float, float]:
    if max(map(abs, v)) > FURTHEST:
        raise ValueError(f"a place lies out of all bounds ({FURTHEST:g} body lengths)")
    return v


Place = Annotated[tuple[float, float, float], AfterValidator(_within)]


class Hold(Record):
    """Where a wrist or an ankle is held, and which way elbow or knee points.

    Units are the body's own, so that the pose fits any: on the floor hip widths to the side and leg lengths up and forward, from under the
    hips; on pelvis, chest and head half their width, the trunk's (the head's) height and half their depth; on a thigh its girth, its
    length and its girth. x to the figure's left, y down, z forward, in the place's own frame.
    """

    of: Literal["floor", "pelvis", "chest", "head", "thigh_l", "thigh_r"]
    at: Place
    toward: Place = (0.0, 0.0, 1.0)


class Pose(Record):
    """How a figure stands. What is not said is as in the standing figure."""

    name: str = Field("", max_length=80)
    angles: dict[str, tuple[float, ...]] = {}
    holds: dict[str, Hold] = {}
    root: Place = (0.0, 0.0, 0.0)
    """Hips to the side in hip widths, height of the hips over the ankles in leg lengths (0: as the standing figure), forward in leg lengths."""
    air: float = Field(0.0, ge=0, le=3)
    """How far the lowest place is off the floor, leg lengths."""
    seat: bool = False
    """Sits on something: it carries weight, too."""
    waived: tuple[str, ...] = Field((), max_length=40)
    """Joints that may go past their limits."""
    yaw: float = Field(0.0, ge=-180, le=180)
    """The turn it reads best from, degrees."""

    @field_validator("angles")
    @classmethod
    def _angles(cls, v: dict[str, tuple[float, ...]]) -> dict[str, tuple[float, ...]]:
        for joint, values in v.items():
            if joint not in ANGLES:
                raise ValueError(f"“{joint[:40]}” is no joint of a pose")
            if len(values) != len(ANGLES[joint]):
                raise ValueError(f"the {joint} has {len(ANGLES[joint])} angles ({', '.join(ANGLES[joint])})")
            if max(map(abs, values)) > MOST:
                raise ValueError(f"an angle of the {joint} is over {MOST:g} degrees")
        return v

    @field_validator("holds")
    @classmethod
    def _holds(cls, v: dict[str, Hold]) -> dict[str, Hold]:
        for end in v:
            if end not in ENDS:
                raise ValueError(f"“{end[:40]}” cannot be held; wrists and ankles can")
            if end.startswith("ankle") and v[end].of != "floor":
                raise ValueError("an ankle is held to the floor")
        return v

    @model_validator(mode="after")
    def _waived(self) -> Pose:
        for joint in self.waived:
            if joint not in ANGLES:
                raise ValueError(f"“{joint[:40]}” is no joint of a pose")
        return self

    def with_angles(self, values: Mapping[str, Iterable[float]], free: Iterable[str] = ()) -> Pose:
        """The same with some joints set, and some ends no longer held."""
        gone = set(free)
        return self.model_copy(update={
            "angles": self.angles | {k: tuple(float(x) for x in v) for k, v in values.items()},
            "holds": {k: h for k, h in self.holds.items() if k not in gone},
        })  # fmt: skip

    @property
    def plain(self) -> bool:
        """Whether it is the standing figure's own."""
        return not (self.angles or self.holds or self.air or any(self.root))

    @property
    def turn(self) -> Turn:
        return Turn(yaw=self.yaw)


STANDING = Pose()


def mirrored(p: Pose) -> Pose:
    """Left and right changed over."""
    angles: dict[str, tuple[float, ...]] = {}
    for joint, v in p.angles.items():
        if joint in ("pelvis", "spine", "neck", "head"):
            angles[joint] = (v[0], -v[1], -v[2])
        else:
            angles[_other(joint)] = v
    flip = {"thigh_l": "thigh_r", "thigh_r": "thigh_l"}
    holds = {
        _other(e): Hold(of=flip.get(h.of, h.of), at=(-h.at[0], h.at[1], h.at[2]), toward=(-h.toward[0], h.toward[1], h.toward[2]))
        for e, h in p.holds.items()
    }
    return p.model_copy(update={
        "angles": angles, "holds": holds, "root": (-p.root[0], p.root[1], p.root[2]), "yaw": -p.yaw,
        "waived": tuple(j if j in ("pelvis", "spine", "neck", "head") else _other(j) for j in p.waived),
    })  # fmt: skip


def _other(joint: str) -> str:
    return joint[:-1] + ("r" if joint.endswith("l") else "l")


class PoseFile(Pose):
    """A pose in a file of its own."""

    format: Literal["orthomet pose"] = "orthomet pose"
    version: Literal[1] = 1


def read_pose(path: str | Path) -> Pose:
    """A pose out of a file.

    Raises
    ------
    FormatError
        With a sentence that says where.
    """
    found = parse(PoseFile, read_text(path, LARGEST, "a pose"), Path(path).name)
    return Pose(**found.model_dump(exclude={"format", "version"}))


def is_pose_file(path: str | Path) -> bool:
    """Whether a JSON file looks like a pose rather than anything else this program writes; False when it cannot be read."""
    try:
        return '"orthomet pose"' in read_text(path, LARGEST, "a pose")
    except OrthometError:
        return False


def pose_text(p: Pose) -> str:
    """The same as text of such a file."""
    return PoseFile(**p.model_dump()).model_dump_json(indent=1, exclude_defaults=False)


class Posing(Record):
    """A character's poses: the one it stands in, and others to choose from."""

    pose: Pose = STANDING
    kept: tuple[Pose, ...] = Field((), max_length=24)
    """Alternatives, in the order they were kept."""
    pins: tuple[str, ...] = Field((), max_length=len(ENDS))
    """Hands and feet that stay where they are while something else is dragged."""

    @property
    def all(self) -> tuple[Pose, ...]:
        """Upright, as it stands, and as it might."""
        return STANDING, self.pose, *self.kept

    @field_validator("pins")
    @classmethod
    def _ends(cls, v: tuple[str, ...]) -> tuple[str, ...]:
        for end in v:
            if end not in ENDS:
                raise ValueError(f"“{end[:40]}” cannot be pinned; wrists and ankles can")
        return v


UNPOSED = Posing()
