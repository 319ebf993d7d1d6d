"""Named moves of a profile: up and down, forward and back. Points look to the right; a positive amount goes down, or forward."""

from __future__ import annotations

import numpy as np

from ..kinds import Array, there
from ..landmarks.views import PROFILE
from .moves import Move

EYE, BROW = ("exocanthion",), ("brow_peak", "glabella")
NOSE, WHOLE_NOSE = ("subnasale", "pronasale"), ("subnasale", "pronasale", "nasion")
MOUTH = ("stomion", "labiale_superius", "labiale_inferius", "sublabiale")
CHIN, EAR = ("gnathion", "pogonion"), ("tragion", "superaurale", "subaurale")
FEATURES = (*EYE, *BROW, *WHOLE_NOSE, *MOUTH)
_Row = tuple[str, tuple[str, ...], str, str]
# name, landmarks, reading it is about, words
_DOWN: tuple[_Row, ...] = (
    ("crown up/down", ("vertex",), "hairline_station", "the crown"), ("chin up/down", CHIN, "chin_hh", "the chin"),
    ("hairline up/down", ("trichion",), "hairline_station", "the hairline"), ("brow up/down", BROW, "brow_station", "the brow"),
    ("eye up/down", EYE, "eye_station", "the eye"), ("eye and brow up/down", (*EYE, *BROW), "eye_station", "eye and brow"),
    ("nose root up/down", ("nasion",), "nose_length_hh", "the nose root"), ("nose base up/down", NOSE, "nose_base_station", "the nose base"),
    ("whole nose up/down", WHOLE_NOSE, "nose_base_station", "the whole nose"), ("mouth up/down", MOUTH, "mouth_station", "the mouth"),
    ("nose and mouth up/down", (*NOSE, *MOUTH), "mouth_station", "nose and mouth"),
    ("mouth and chin up/down", (*MOUTH, *CHIN), "mouth_station", "mouth and chin"),
    ("features up/down", FEATURES, "eye_station", "all features"), ("ear up/down", EAR, "ear_top_station", "the ear"),
    ("ear top up/down", ("superaurale",), "ear_top_station", "the ear’s top"), ("ear lobe up/down", ("subaurale",), "ear_bottom_station", "the ear lobe"),
)  # fmt: skip
_FORWARD: tuple[_Row, ...] = (
    ("nose forward/back", ("pronasale",), "nose_depth_hh", "the nose"),
    ("upper lip forward/back", ("labiale_superius",), "upper_lip_out_hh", "the upper lip"),
    ("lower lip forward/back", ("labiale_inferius",), "lower_lip_out_hh", "the lower lip"),
    ("lips forward/back", MOUTH[:3], "upper_lip_out_hh", "both lips"), ("chin forward/back", CHIN, "chin_out_hh", "the chin"),
    ("lower lip and chin forward/back", ("labiale_inferius", "sublabiale", *CHIN), "chin_out_hh", "lower lip and chin"),
    ("mouth and chin forward/back", (*MOUTH, *CHIN), "chin_out_hh", "mouth and chin"),
    ("nose, mouth and chin forward/back", (*NOSE, *MOUTH, *CHIN), "chin_out_hh", "nose, mouth and chin"),
    ("back of the head forward/back", ("opisthocranion",), "head_depth_hh", "the back of the head"),
)  # fmt: skip


def profile_moves(points: Array) -> list[Move]:
    """All named moves that a profile with these landmarks allows: ``(n, 2)`` in the view's order, heads, looking right."""
    here = there(points)
    out = []
    for axis, rows, (more, less) in (
        (1, _DOWN, ("Lower {}", "Raise {}")),
        (0, _FORWARD, ("Bring {} forward", "Take {} back")),
    ):
        for name, names, reading, words in rows:
            at = [i for i in (PROFILE.index[n] for n in names) if here[i]]
            if at:
                field = np.zeros_like(points)
                field[at, axis] = 1.0
                out.append(Move(name, more.format(words), less.format(words), reading, field, True, schema=PROFILE))
    return out
