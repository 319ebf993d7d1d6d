"""Layered pictures, against the format's published layout: what lies where, and what the layers add up to."""

from __future__ import annotations

import io
import xml.etree.ElementTree as ET
import zipfile
from itertools import pairwise
from typing import Any

import numpy as np
import pytest
from PIL import Image

from orthomet.app.render import PENCIL_OF, stage_pencil, to_ora
from orthomet.core.errors import FormatError
from orthomet.core.export.openraster import Raster, pack
from orthomet.core.export.page import page
from orthomet.core.head.body import Wear, body
from orthomet.core.head.drawn import picture
from orthomet.core.head.points import plan_points
from orthomet.core.head.scene import scene_of
from orthomet.core.head.shadow import Light, with_shadow
from orthomet.core.landmarks.turn import Turn
from orthomet.demo.cast import BERTA, BERTA_FEATURES


def test_a_head_in_layers(qapp: Any) -> None:
    sheet = page(picture(scene_of(body(BERTA, plan_points(BERTA)), Turn(yaw=30))), 40)
    z = zipfile.ZipFile(io.BytesIO(to_ora(sheet)))
    first = z.infolist()[0]
    assert (first.filename, first.compress_type, z.read(first)) == ("mimetype", zipfile.ZIP_STORED, b"image/openraster")
    assert {"stack.xml", "mergedimage.png", "Thumbnails/thumbnail.png"} <= set(z.namelist())
    root = ET.fromstring(z.read("stack.xml"))
    size = (int(root.get("w", 0)), int(root.get("h", 0)))
    layers = root.findall("./stack/layer")
    assert root.tag == "image" and [ly.get("name") for ly in layers][-1] == "Paper" and len(layers) == len(sheet.layers) + 1
    canvas = Image.new("RGBA", size, (255, 255, 255, 255))
    for ly in reversed(layers):  # the file lists the topmost first
        im = Image.open(io.BytesIO(z.read(ly.get("src", "")))).convert("RGBA")
        at = int(ly.get("x", -1)), int(ly.get("y", -1))
        assert all(a >= 0 and a + w <= s for a, w, s in zip(at, im.size, size, strict=True))
        assert ly.get("composite-op") == "svg:src-over" and 0 < float(ly.get("opacity", 0)) <= 1
        if ly.get("visibility") == "visible":
            im.putalpha(Image.fromarray((np.asarray(im)[..., 3] * float(ly.get("opacity", 1))).astype(np.uint8)))
            canvas.alpha_composite(im, at)
    merged = np.asarray(Image.open(io.BytesIO(z.read("mergedimage.png"))).convert("L"), float)
    ours = np.asarray(canvas.convert("L"), float)
    assert merged.shape == (size[1], size[0]) and ((ours < 200) & (merged < 235)).sum() > 0.9 * (ours < 200).sum()
    thumb = Image.open(io.BytesIO(z.read("Thumbnails/thumbnail.png")))
    assert max(thumb.size) <= 256
    own = {ly.get("name"): float(ly.get("opacity", 1)) for ly in layers}
    assert own["Guides"] == PENCIL_OF["guides"][1] and own["Head outline"] == 1


def test_every_step_of_a_school_is_a_layer_with_a_colour_of_its_own(qapp: Any) -> None:
    wear = Wear(school="circle-and-cross", choices=BERTA_FEATURES)
    view = scene_of(body(BERTA, plan_points(BERTA), wear), Turn(yaw=25))
    sheet = page(with_shadow(picture(view, steps=range(4)), view, Light()), 40)
    z = zipfile.ZipFile(io.BytesIO(to_ora(sheet)))
    layers = {ly.get("name", ""): ly for ly in ET.fromstring(z.read("stack.xml")).findall("./stack/layer")}
    steps = [n for n in layers if n.startswith("Circle and cross")]
    assert len(steps) == 8 and {"Shadow", "Hair", "Skull under the hair"} <= set(layers)
    assert [layers[n].get("visibility") for n in sorted(steps)] == ["visible"] * 4 + ["hidden"] * 4

    def colour(name: str) -> tuple[int, ...]:
        im = np.asarray(Image.open(io.BytesIO(z.read(layers[name].get("src", "")))).convert("RGBA"))
        strong = im[im[..., 3] > 120]
        return tuple(np.median(strong[:, :3], axis=0).astype(int).tolist())

    by_step = [colour(n) for n in sorted(steps)[:4] if "jaw" not in n]
    assert all(np.abs(np.subtract(a, b)).max() > 25 for a, b in pairwise(by_step))
    fading = [float(layers[n].get("opacity", 0)) for n in sorted(steps)]
    assert fading == sorted(fading, reverse=True) and min(fading) > 0.4
    assert stage_pencil("halves-2", "blue")[0] != stage_pencil("halves-1", "blue")[0] and stage_pencil("outline", "blue") == (
        "blue",
        1.0,
    )


def test_what_is_no_layer_is_refused() -> None:
    png = b"\x89PNG..."
    for layers, merged in (([], png), ([Raster("a", b"GIF")], png), ([Raster("a", png)], b"x")):
        with pytest.raises(FormatError):
            pack(layers, merged, png, (1, 1))
    text = zipfile.ZipFile(io.BytesIO(pack([Raster('<"&>', png)], png, png, (3, 4)))).read("stack.xml").decode()
    assert ET.fromstring(text).find("./stack/layer").get("name") == '<"&>'  # type: ignore[union-attr]
