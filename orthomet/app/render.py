"""Picture description → QPainter: the screen, PNG and PDF draw with the same few lines."""

from __future__ import annotations

import contextlib
import re
from collections.abc import Mapping
from dataclasses import replace
from pathlib import Path as FilePath

import numpy as np
from PySide6.QtCore import QBuffer, QByteArray, QIODevice, QMarginsF, QPointF, QRectF, QSizeF, Qt
from PySide6.QtGui import QColor, QFont, QFontMetricsF, QImage, QPageSize, QPainter, QPdfWriter, QPen, QPolygonF

from ..core.errors import ProjectError
from ..core.export.files import write_whole
from ..core.export.look import Look, looks
from ..core.export.openraster import THUMB, Raster, pack
from ..core.export.svg import to_svg
from ..core.picture import Path, Picture, Role, Text

MAX_PNG_SIDE = 20_000
PNG_DPI = 300


def polygon(points: np.ndarray) -> QPolygonF:
    return QPolygonF([QPointF(x, y) for x, y in points.tolist()])


def _colour(name: str, opacity: float) -> QColor:
    c = QColor(name)
    c.setAlphaF(opacity)
    return c


def paint(
    p: QPainter, picture: Picture, scale: float, table: Mapping[Role, Look], line_scale: float, skip: frozenset[str] = frozenset()
) -> None:
    """Draw a picture: its units times ``scale`` are painter units, pen widths (mm) times ``line_scale`` too."""
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    for layer in picture.layers:
        if not layer.visible or layer.id in skip:
            continue
        for item in layer.items:
            look = table[item.role]
            if isinstance(item, Text):
                _words(p, item, scale, look)
            else:
                _path(p, item, scale, look, line_scale)


def _path(p: QPainter, item: Path, scale: float, look: Look, line_scale: float) -> None:
    shape = polygon(item.points * scale)
    if item.filled:
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(_colour(look.fill, look.opacity))
        p.drawPolygon(shape)
        return
    pen = QPen(_colour(look.colour, look.opacity), look.width * line_scale)
    pen.setCapStyle(Qt.PenCapStyle.RoundCap)
    pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    p.setPen(pen)
    p.setBrush(Qt.BrushStyle.NoBrush)
    if item.closed:
        p.drawPolygon(shape)
    else:
        p.drawPolyline(shape)


def _words(p: QPainter, item: Text, scale: float, look: Look) -> None:
    font = QFont("Lato")
    font.setPixelSize(max(1, round(item.size * scale)))
    p.setFont(font)
    p.setPen(_colour(look.fill, 1.0))
    x, y = item.at[0] * scale, item.at[1] * scale
    width = QFontMetricsF(font).horizontalAdvance(item.words)
    p.drawText(QPointF(x - width * (item.align + 1) / 2, y), item.words)


def to_image(page: Picture, pencil: str = "blue", dpi: int = PNG_DPI, ground: bool = True) -> QImage:
    """A page in millimetres as an image that knows its resolution."""
    scale = dpi / 25.4
    w, h = round(page.box[2] * scale), round(page.box[3] * scale)
    if max(w, h) > MAX_PNG_SIDE:
        raise ProjectError(f"At {dpi} dots per inch the page would be {w} × {h} pixels; choose a smaller head.")
    image = QImage(w, h, QImage.Format.Format_RGB32 if ground else QImage.Format.Format_ARGB32_Premultiplied)
    image.setDotsPerMeterX(round(dpi / 0.0254))
    image.setDotsPerMeterY(round(dpi / 0.0254))
    image.fill(Qt.GlobalColor.white if ground else Qt.GlobalColor.transparent)
    p = QPainter(image)
    try:
        p.translate(-page.box[0] * scale, -page.box[1] * scale)
        paint(p, page, scale, looks(pencil), scale)
    finally:
        p.end()
    return image


def to_png(page: Picture, pencil: str = "blue") -> bytes:
    return _png(to_image(page, pencil))


def save_image(image: QImage, path: str | FilePath) -> None:
    """Write an image as the file's ending says, all or nothing; may run off the interface thread.

    Raises
    ------
    ProjectError
    """
    p = FilePath(path)
    temp = p.with_name(f".part-{p.name}")
    try:
        if not image.save(str(temp), quality=92):
            raise ProjectError(f"{p.name} cannot be written.")
        temp.replace(p)
    except OSError as e:
        raise ProjectError(f"{p.name} cannot be written: {e.strerror or e}.") from None
    finally:
        with contextlib.suppress(OSError):
            temp.unlink(missing_ok=True)


def _png(image: QImage) -> bytes:
    data = QByteArray()
    buffer = QBuffer(data)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(buffer, "PNG")  # type: ignore[call-overload]
    buffer.close()
    return bytes(data.data())


PENCIL_OF = {
    "hidden": ("graphite", 0.5),
    "guides": ("sanguine", 0.8),
    "level-lines": ("sanguine", 0.6),
    "plan-lines": ("sanguine", 0.6),
    "skull": ("graphite", 0.6),
    "shadow": ("graphite", 0.7),
}
"""Pencil and opacity of a stage in a layered picture, where they are not the page's own."""
STEP_PENCILS = ("sanguine", "graphite", "blue")
"""Steps of a school in turn, so that one can be told from the next."""


def stage_pencil(layer: str, pencil: str) -> tuple[str, float]:
    """Pencil and opacity of a layer: a school's steps go through the pencils, fading a little as they go on."""
    step = re.fullmatch(r"[a-z-]+-(\d+)", layer)
    if step:
        k = int(step[1]) - 1
        return STEP_PENCILS[k % len(STEP_PENCILS)], max(0.9 - 0.06 * k, 0.45)
    return PENCIL_OF.get(layer, (pencil, 1.0))


def to_ora(page: Picture, pencil: str = "blue") -> bytes:
    """A page as OpenRaster: paper, then one transparent layer a stage, each in its own colour and opacity."""
    whole = to_image(page, pencil)
    size = (whole.width(), whole.height())
    paper = QImage(*size, QImage.Format.Format_RGB32)
    paper.fill(Qt.GlobalColor.white)
    layers = [Raster("Paper", _png(paper))]
    for layer in page.layers:
        own, opacity = stage_pencil(layer.id, pencil)
        shown = replace(page, layers=(replace(layer, visible=True),))
        layers.append(Raster(layer.title, _png(to_image(shown, own, ground=False)), opacity, layer.visible))
    small = whole.scaled(THUMB, THUMB, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation)
    return pack(layers, _png(whole), _png(small), size, PNG_DPI)


def to_pdf(page: Picture, pencil: str = "blue") -> bytes:
    """A page in millimetres as PDF, exactly that size."""
    data = QByteArray()
    buffer = QBuffer(data)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(buffer)
    writer.setTitle(page.title)
    writer.setCreator("Orthomet")
    writer.setResolution(1200)
    size = QPageSize(QSizeF(page.box[2], page.box[3]), QPageSize.Unit.Millimeter, "", QPageSize.SizeMatchPolicy.ExactMatch)
    writer.setPageSize(size)
    writer.setPageMargins(QMarginsF(0, 0, 0, 0))
    scale = 1200 / 25.4
    p = QPainter(writer)
    try:
        p.setClipRect(QRectF(0, 0, page.box[2] * scale, page.box[3] * scale))
        paint(p, page, scale, looks(pencil), scale)
    finally:
        p.end()
    buffer.close()
    return bytes(data.data())


def write_page(page: Picture, path: str | FilePath, pencil: str = "blue") -> None:
    """Write a page as ``.svg``, ``.png``, ``.pdf`` or layered ``.ora``, by the file's ending, all or nothing.

    Raises
    ------
    ProjectError
        An unknown ending, or a target that cannot be written.
    """
    p = FilePath(path)
    kind = p.suffix.lower()
    if kind == ".svg":
        data = to_svg(page, pencil).encode()
    elif kind == ".png":
        data = to_png(page, pencil)
    elif kind == ".pdf":
        data = to_pdf(page, pencil)
    elif kind == ".ora":
        data = to_ora(page, pencil)
    else:
        raise ProjectError(f"Guides are written as .svg, .pdf, .png or .ora; “{p.name}” is none of them.")
    write_whole(p, data)
