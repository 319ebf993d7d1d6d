"""Bringing an older ``project.json`` up to today's layout, one version at a time."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ..errors import ProjectError
from ..plan.scores import from_plain_share
from .model import FORMAT_VERSION

Step = Callable[[dict[str, Any]], dict[str, Any]]


def _from_1(body: dict[str, Any]) -> dict[str, Any]:
    """Version 2 added fields only; each has a default."""
    return body


def _from_2(body: dict[str, Any]) -> dict[str, Any]:
    """Version 3 added fields only; each has a default."""
    return body


def _from_3(body: dict[str, Any]) -> dict[str, Any]:
    """Version 4 added fields that have defaults, and tells likeness on another scale: a held one is brought to it."""
    for c in body.get("characters") or ():
        d = c.get("decisions") if isinstance(c, dict) else None
        if isinstance(d, dict) and isinstance(d.get("hold"), int | float):
            d["hold"] = from_plain_share(float(d["hold"]))
    return body


def _from_4(body: dict[str, Any]) -> dict[str, Any]:
    """Version 5 added pens, and decides hair in other words: what a head wore is said in them."""
    for c in body.get("characters") or ():
        chosen = c.get("features") if isinstance(c, dict) else None
        values = chosen.get("values") if isinstance(chosen, dict) else None
        row = values.get("hair") if isinstance(values, dict) else None
        if isinstance(values, dict) and isinstance(row, dict) and all(_number(x) for x in row.values()):
            values["hair"] = _hair_of_4(row)
    return body


def _number(x: object) -> bool:
    return isinstance(x, int | float) and not isinstance(x, bool)


def _from_5(body: dict[str, Any]) -> dict[str, Any]:
    """Version 6 knows what is decided for a character's body; nothing was."""
    return body


def _from_6(body: dict[str, Any]) -> dict[str, Any]:
    """Version 7 knows how a character stands; all stood upright."""
    return body


def _from_7(body: dict[str, Any]) -> dict[str, Any]:
    """Version 8 knows a character's shapes; none were taken."""
    return body


def _from_8(body: dict[str, Any]) -> dict[str, Any]:
    """Version 9 knows how a drawing is looked at and keeps its checks; all were compared with their plans, looking ahead, at rest."""
    return body


_HAIR_4 = {
    "kind": 0.0,
    "volume": 0.045,
    "lift": 0.035,
    "parting": -0.35,
    "fringe": 0.0,
    "sides": 0.0,
    "swept": 0.4,
    "back": 0.0,
    "locks": 4.0,
}
"""What hair stood at up to version 4 where nothing was said."""


def _hair_of_4(row: dict[str, float]) -> dict[str, float]:
    """Hair as it was decided up to version 4: one mass with a parting, a fringe, sides and a back."""
    v = {**_HAIR_4, **row}
    if v["kind"] < 0.5:
        return {}
    short = v["sides"] < 0.3 and v["fringe"] < 0.5
    kind = 5 if short and v["volume"] <= 0.025 and v["lift"] <= 0.02 else 2 if short else 1
    return {
        "kind": kind, "volume": min(v["volume"], 0.16), "lift": min(v["lift"], 0.2), "parted": 1, "parting": 0.6875 * v["parting"],
        "fringe": v["fringe"], "sides": v["sides"], "back": 2 * v["back"], "swept": v["swept"], "strands": min(v["locks"] / 4, 2.5),
    }  # fmt: skip


STEPS: dict[int, Step] = {1: _from_1, 2: _from_2, 3: _from_3, 4: _from_4, 5: _from_5, 6: _from_6, 7: _from_7, 8: _from_8}
"""``STEPS[n]`` turns a version-n record into version n + 1. Version 1 is the first that shipped."""


def migrate(body: dict[str, Any], where: str) -> dict[str, Any]:
    """Record of any known version → record of :data:`FORMAT_VERSION`.

    Raises
    ------
    ProjectError
        No version, or one newer than this program knows.
    """
    version = body.get("format_version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise ProjectError(f"{where} does not say which version of the project format it has.")
    if version > FORMAT_VERSION:
        raise ProjectError(
            f"{where} was saved by a newer Orthomet (format {version}; this one reads up to {FORMAT_VERSION}). Nothing was changed."
        )
    while version < FORMAT_VERSION:
        body = STEPS[version](body)
        version += 1
        body["format_version"] = version
    return body
