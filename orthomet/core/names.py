"""Finding things by what a person types: the name, or the title on the screen, case and punctuation aside."""

from __future__ import annotations

import re
from collections.abc import Iterable


def plain(text: str) -> str:
    """“Low lantern” and “low-lantern” alike."""
    return re.sub(r"[\W_]+", "-", text.casefold()).strip("-")


def named(wanted: str, known: Iterable[tuple[str, str]]) -> str | None:
    """The name of the one of ``(name, title)`` that is meant; an exact name goes first. ``None`` for none of them.

    >>> named("LOW lantern", [("low-lantern", "Low lantern"), ("berth-card", "Berth card")])
    'low-lantern'
    """
    pairs = list(known)
    if any(name == wanted for name, _ in pairs):
        return wanted
    bare = plain(wanted)
    return next((name for name, title in pairs if bare and bare in (plain(name), plain(title))), None)
