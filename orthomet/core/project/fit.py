"""What a saved project says beyond the bounds of today's data files is brought inside them, and told.

Features and their dials are data; a dial that was narrowed, renamed or dropped since must not make a saved project
unreadable. Everything else of a project is checked by its model.
"""

from __future__ import annotations

from typing import Any

from ..errors import quoted
from ..features.table import features


def fit(body: dict[str, Any]) -> tuple[str, ...]:
    """Bring the features of every character inside today's bounds, in place; a sentence for each that had to be.

    ``body`` is a project's record as it was read, of today's format; what is not laid out as it should be is left to the model.
    """
    told: list[str] = []
    for c in body.get("characters") or () if isinstance(body.get("characters"), list) else ():
        chosen = c.get("features") if isinstance(c, dict) else None
        if isinstance(chosen, dict):
            who = str(c.get("name", ""))[:80]
            if isinstance(chosen.get("values"), dict):
                chosen["values"] = _values(chosen["values"], who, told)
            if isinstance(chosen.get("absent"), list):
                chosen["absent"] = _absent(chosen["absent"], who, told)
    return tuple(told)


def _values(values: dict[str, Any], who: str, told: list[str]) -> dict[str, Any]:
    out: dict[str, Any] = {}
    for key, row in values.items():
        f = features().get(key)
        if f is None:
            told.append(f"{who}: this library has no feature {quoted(key)}; what was said of it is left out.")
            continue
        if not isinstance(row, dict):
            out[key] = row
            continue
        kept: dict[str, Any] = {}
        for name, x in row.items():
            p = f.parameter(name)
            if p is None:
                told.append(f"{who}: the {key} have no dial {quoted(name)} any more; it is left out.")
            elif isinstance(x, bool) or not isinstance(x, int | float):
                kept[name] = x
            else:
                kept[name] = min(max(x, p.low), p.high)
                if kept[name] != x:
                    told.append(f"{who}: {p.words.lower()} of {x:g} lies beyond what can be drawn; {kept[name]:g} stands in.")
        out[key] = kept
    return out


def _absent(absent: list[Any], who: str, told: list[str]) -> list[Any]:
    gone = [f for f in absent if isinstance(f, str) and f not in features()]
    told += [f"{who}: this library has no feature {quoted(f)} to leave out." for f in gone]
    return [f for f in absent if f not in gone]
