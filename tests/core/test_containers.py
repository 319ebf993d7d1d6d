"""Half-written pictures are told from whole ones, by the files Pillow itself writes."""

from __future__ import annotations

import io
import zipfile

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from orthomet.core.errors import PictureError
from orthomet.core.imaging.containers import MERGED, is_archive, lacking, merged_image


def written(kind: str) -> bytes:
    rng = np.random.default_rng(4)
    pixels = rng.integers(0, 255, (60, 70, 3), dtype=np.uint8)
    held = io.BytesIO()
    if kind == "ORA":
        with zipfile.ZipFile(held, "w") as z:
            z.writestr("mimetype", "image/openraster")
            z.writestr(MERGED, written("PNG"), zipfile.ZIP_STORED)
            z.writestr("stack.xml", "<image/>")
    else:
        Image.fromarray(pixels).save(held, kind)
    return held.getvalue()


KINDS = ("PNG", "JPEG", "WEBP", "TIFF", "ORA")


@pytest.mark.parametrize("kind", KINDS)
def test_a_whole_file_lacks_nothing(kind: str) -> None:
    assert lacking(written(kind)) == ""


@settings(max_examples=60, deadline=None)
@given(st.sampled_from(KINDS), st.floats(0, 0.995))
def test_a_cut_file_lacks_something(kind: str, share: float) -> None:
    data = written(kind)
    assert lacking(data[: int(share * len(data))]) != ""


@settings(max_examples=40, deadline=None)
@given(st.integers(40, 6000), st.integers(1, 255))
def test_a_png_that_is_overwritten_in_the_middle_is_not_whole(at: int, by: int) -> None:
    data = bytearray(written("PNG"))
    at %= len(data) - 20
    data[8 + at] ^= by
    assert lacking(bytes(data)) != ""


@settings(max_examples=80, deadline=None)
@given(
    st.binary(max_size=400),
    st.sampled_from([b"", b"\x89PNG\r\n\x1a\n", b"\xff\xd8", b"RIFF1234WEBP", b"II*\0", b"MM\0*", b"PK\3\4"]),
)
def test_rubbish_is_never_whole_and_never_breaks(data: bytes, lead: bytes) -> None:
    said = lacking(lead + data)
    if lead != b"\xff\xd8":
        assert said or lead == b"RIFF1234WEBP"


def test_the_merged_image_is_taken_bounded() -> None:
    assert is_archive(written("ORA")) and merged_image(written("ORA")) == written("PNG")
    held = io.BytesIO()
    with zipfile.ZipFile(held, "w") as z:
        z.writestr("other.png", b"x")
    for bad in (held.getvalue(), b"PK\3\4nothing", b""):
        with pytest.raises(PictureError):
            merged_image(bad)
    huge = io.BytesIO()
    with zipfile.ZipFile(huge, "w", zipfile.ZIP_DEFLATED) as z:
        z.writestr(MERGED, b"\0" * (300 * 1024 * 1024))
    with pytest.raises(PictureError, match="large"):
        merged_image(huge.getvalue())
