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


STEPS: dict[int, Step] = {1: _from_1, 2: _from_2, 3: _from_3}
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
