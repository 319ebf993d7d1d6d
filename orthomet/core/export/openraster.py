"""Layered pictures as OpenRaster: PNG layers in a zip with a stack file, after the format's published baseline (0.0.6).

The archive starts with an uncompressed ``mimetype``; ``stack.xml`` lists layers from top to bottom; a merged picture and a
thumbnail of at most 256 pixels lie beside them.
"""

from __future__ import annotations

import io
import zipfile
from dataclasses import dataclass
from xml.sax.saxutils import quoteattr

from ..errors import FormatError

MIME = "image/openraster"
THUMB = 256


@dataclass(frozen=True)
class Raster:
    """One layer: a piece of the canvas, as large as what is drawn on it."""

    name: str
    png: bytes
    opacity: float = 1.0
    visible: bool = True
    at: tuple[int, int] = (0, 0)
    """Where its upper left corner lies on the canvas, pixels."""


def pack(layers: list[Raster], merged: bytes, thumbnail: bytes, size: tuple[int, int], dpi: int = 300) -> bytes:
    """The archive; ``layers`` from the lowest to the topmost, all PNG, ``size`` of the canvas in pixels.

    Raises
    ------
    FormatError
        No layer, or something that is no PNG.
    """
    if not layers or not all(p.startswith(b"\x89PNG") for p in (merged, thumbnail, *(ly.png for ly in layers))):
        raise FormatError("A layered picture needs at least one PNG layer, a merged picture and a thumbnail.")
    rows = []
    for k, ly in reversed(list(enumerate(layers))):
        seen = "visible" if ly.visible else "hidden"
        rows.append(
            f'  <layer name={quoteattr(ly.name)} src="data/layer{k:03d}.png" x="{ly.at[0]}" y="{ly.at[1]}" opacity="{ly.opacity:.4g}" '
            f'visibility="{seen}" composite-op="svg:src-over"/>'
        )
    w, h = size
    stack = "\n".join([
        "<?xml version='1.0' encoding='UTF-8'?>", f'<image version="0.0.6" w="{w}" h="{h}" xres="{dpi}" yres="{dpi}">', " <stack>", *rows, " </stack>", "</image>", "",
    ])  # fmt: skip
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as z:  # PNG does not shrink again
        z.writestr("mimetype", MIME)
        z.writestr("stack.xml", stack)
        for k, ly in enumerate(layers):
            z.writestr(f"data/layer{k:03d}.png", ly.png)
        z.writestr("mergedimage.png", merged)
        z.writestr("Thumbnails/thumbnail.png", thumbnail)
    return out.getvalue()
