"""Colours: CIELAB against scikit-image, the palette of pictures whose colours are known, ramps, files."""

from __future__ import annotations

import json
import re
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from skimage import color as reference
from skimage import data as open_pictures

from orthomet.core.errors import PictureError
from orthomet.core.imaging.palette import as_json, complement, css, difference, lab_of, palette, ramp, saturated, to_lab, to_rgb

COLOURS = st.integers(0, 0xFFFFFF).map(lambda v: f"#{v:06x}")


def test_cielab_is_the_published_one() -> None:
    """Against scikit-image's own conversion (CIE 15, D65, 2° observer)."""
    rgb = np.random.default_rng(0).integers(0, 256, (400, 3))
    np.testing.assert_allclose(to_lab(rgb.astype(float)), reference.rgb2lab(rgb / 255.0), atol=0.35)
    np.testing.assert_allclose(to_rgb(to_lab(rgb.astype(float))), rgb, atol=1)


@settings(deadline=None)
@given(COLOURS)
def test_what_is_opposite_keeps_its_lightness_and_turns_its_hue(colour: str) -> None:
    here, there = lab_of(colour), lab_of(complement(colour))
    assert abs(here[0] - there[0]) < 2.5
    chroma = np.hypot(*here[1:])
    if chroma > 12 and np.hypot(*there[1:]) > 4:
        turn = np.degrees(np.arctan2(*here[:0:-1]) - np.arctan2(*there[:0:-1])) % 360
        assert abs(turn - 180) < 12


@settings(deadline=None)
@given(COLOURS)
def test_ramps_darken_and_the_dial_goes_from_grey_to_itself(colour: str) -> None:
    light, dark = ramp(colour)
    assert light == colour and lab_of(dark)[0] <= lab_of(colour)[0] + 0.5
    grey = lab_of(saturated(colour, 0))
    assert np.hypot(*grey[1:]) < 1.5 and saturated(colour, 1) == colour
    assert np.hypot(*lab_of(saturated(colour, 0.5))[1:]) <= np.hypot(*lab_of(colour)[1:]) + 1


def test_a_poster_gives_back_its_paints_by_area() -> None:
    """Three flat paints on 60, 30 and 10 % of the sheet, each darker toward its border."""
    paints = {"#c8a070": 0.6, "#30506c": 0.3, "#8c2020": 0.1}
    out = np.zeros((300, 300, 3), np.uint8)
    x = 0
    for colour, share in paints.items():
        w = round(300 * share)
        rgb = [int(colour[i : i + 2], 16) for i in (1, 3, 5)]
        out[:, x : x + w] = rgb
        rim = np.zeros((300, w), bool)
        rim[:, : w // 6], rim[:, -(w // 6) :] = True, True
        out[:, x : x + w][rim] = (np.array(rgb) * 0.93).astype(np.uint8)
        x += w
    found = palette(out)
    assert len(found) == 3
    for tone, (colour, share) in zip(found, paints.items(), strict=True):
        assert difference(tone.colour, colour) < 5 and tone.share == pytest.approx(share, abs=0.02)
        assert difference(tone.centre, colour) < 1.5
        assert lab_of(tone.edge)[0] < lab_of(tone.centre)[0]


def test_a_photograph_is_summed_up_and_transparency_left_out() -> None:
    """scikit-image's open photograph of a coffee cup: table, saucer and coffee are in its palette."""
    tones = palette(open_pictures.coffee())
    assert 4 <= len(tones) <= 8 and sum(t.share for t in tones) > 0.95
    assert all(a.share >= b.share for a, b in pairwise(tones))
    pairs = [difference(a.colour, b.colour) for i, a in enumerate(tones) for b in tones[i + 1 :]]
    assert min(pairs) > 11
    half = np.zeros((40, 40, 4), np.uint8)
    half[:, :20] = (200, 30, 40, 255)
    half[:, 20:] = (0, 255, 0, 0)
    (only,) = palette(half)
    assert difference(only.colour, "#c81e28") < 2
    with pytest.raises(PictureError, match="transparent"):
        palette(np.zeros((8, 8, 4), np.uint8))
    with pytest.raises(PictureError, match="Stopped"):
        palette(open_pictures.coffee(), say=lambda words: False)


def test_swatches_leave_as_style_sheet_and_json() -> None:
    text = css(
        [
            ("Coat", "#30506c", "#203040", "#406080"),
            ("coat", "#111111", "#000000", "#222222"),
            ("*/{}", "#fff000", "#fff000", "#fff000"),
        ],
        "Berta */",
    )
    assert "*/ " not in text.split("\n")[0].removesuffix(" */") and text.count("{") == 1
    names = re.findall(r"(--[a-z0-9-]+):", text)
    assert len(names) == len(set(names)) == 12 and "--coat-2-edge" in names
    body = json.loads(as_json([{"name": "Coat", "colour": "#30506c"}], "Berta"))
    assert body["swatches"][0]["colour"] == "#30506c" and body["title"] == "Berta"
