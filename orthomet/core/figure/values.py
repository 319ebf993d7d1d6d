"""What of a planned head and body speaks of age, by registry key."""

from __future__ import annotations

from collections.abc import Mapping


def values_of(face: Mapping[str, float], body: Mapping[str, float]) -> dict[str, float]:
    """Readings head and body are matched by, from a face's planned traits and a body's readings."""
    out = {k: float(face[k]) for k in ("eye_width_fw", "eye_station", "nose_length_hh", "mouth_width_fw")}
    out["chin_hh"] = 1.0 - float(face["mouth_station"])
    out["eye_height_hh"] = float(face["eye_opening_ew"] * face["eye_width_fw"] * face["face_width_hh"])
    return out | {k: float(body[k]) for k in ("neck_hw", "shoulder_hw", "ribcage_hw", "heads_tall", "trunk_hh")}
