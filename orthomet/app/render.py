"""Picture description → QPainter: the screen, PNG and PDF draw with the same few lines."""

from __future__ import annotations

import re
import struct
import tempfile
import zlib
from collections.abc import Callable, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from itertools import groupby
from pathlib import Path
from typing import cast

import numpy as np
from PySide6.QtCore import QByteArray, QDataStream, QMarginsF, QPointF, QRectF, QSizeF, Qt
from PySide6.QtGui import QColor, QFont, QFontMetricsF, QImage, QPageSize, QPainter, QPainterPath, QPdfWriter, QPen, QPolygonF

from ..core.errors import Cancelled, ProjectError, quoted
from ..core.export.look import Look, looks, tinted
from ..core.export.openraster import THUMB, Raster, pack
from ..core.export.svg import to_svg
from ..core.files import in_words, write_whole
from ..core.ink.stroke import outline, outlines
from ..core.kinds import Array
from ..core.picture import Ink, Picture, Text, Trace
from .theme.paint import solid

MAX_PNG_SIDE = 20_000
PNG_DPI = 300
WIDEST_PEN = 1.5
"""Millimetres a pen may reach beyond the line it draws (own, above all looks)."""
FACET = 2.0
"""Painter units from corner to corner of an inked outline."""
Say = Callable[[str], bool]


def polygon(points: Array) -> QPolygonF:
    return QPolygonF([QPointF(x, y) for x, y in points.tolist()])


def _colour(name: str, opacity: float) -> QColor:
    c = QColor(name)
    c.setAlphaF(opacity)
    return c


def paint(
    p: QPainter, picture: Picture, scale: float, table: Mapping[Ink, Look], line_scale: float, skip: frozenset[str] = frozenset()
) -> None:
    """Draw a picture: its units times ``scale`` are painter units, pen widths (mm) times ``line_scale`` too."""
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    table = tinted(table, picture.tints)
    for layer in picture.layers:
        if not layer.visible or layer.id in skip:
            continue
        for (inked, look), items in groupby(layer.items, lambda i: (_is_inked(i), table[i.role])):
            if inked:
                _strokes(p, cast("list[Trace]", list(items)), scale, look)
                continue
            for item in items:
                if isinstance(item, Text):
                    _words(p, item, scale, look)
                else:
                    _path(p, item, scale, look, line_scale)


def _is_inked(item: Trace | Text) -> bool:
    """Whether it is an open stroke with a width of its own, of which many are painted at once."""
    return isinstance(item, Trace) and item.widths is not None and not item.closed


def _strokes(p: QPainter, items: Sequence[Trace], scale: float, look: Look) -> None:
    """Inked strokes of one look as one shape."""
    corners, count = outlines([(i.points * scale, i.widths * scale) for i in items if i.widths is not None], FACET)
    if len(count):
        solid(p, _colour(look.colour, look.opacity))
        p.drawPath(path_of(corners, count, Qt.FillRule.WindingFill))


_ELEMENT = np.dtype([("kind", ">i4"), ("x", ">f8"), ("y", ">f8")])


def path_of(corners: Array, count: Array, rule: Qt.FillRule) -> QPainterPath:
    """Closed polygons one behind the other as a path, by way of Qt's own stream of one: no corner passes through Python."""
    path = QPainterPath()
    if not len(corners):
        return path
    rows = np.empty(len(corners), _ELEMENT)
    rows["kind"], rows["x"], rows["y"] = 1, corners[:, 0], corners[:, 1]
    first = count.cumsum() - count
    rows["kind"][first] = 0
    ends = struct.pack(">ii", int(first[-1]), 1 if rule == Qt.FillRule.WindingFill else 0)
    QDataStream(QByteArray(struct.pack(">i", len(rows)) + rows.tobytes() + ends)) >> path
    return path


def _path(p: QPainter, item: Trace, scale: float, look: Look, line_scale: float) -> None:
    if item.widths is not None:
        solid(p, _colour(look.colour, look.opacity))
        p.drawPath(_area(outline(item.points * scale, item.widths * scale, item.closed, FACET), Qt.FillRule.WindingFill))
        return
    if item.filled:
        solid(p, _colour(look.fill, look.opacity))
        if item.holes:
            p.drawPath(_area([item.points * scale, *(h * scale for h in item.holes)], Qt.FillRule.OddEvenFill))
        else:
            p.drawPath(_area([item.points * scale], Qt.FillRule.OddEvenFill))
        return
    shape = polygon(item.points * scale)
    pen = QPen(_colour(look.colour, look.opacity), look.width * line_scale)
    pen.setCapStyle(Qt.PenCapStyle.RoundCap)
    pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    p.setPen(pen)
    p.setBrush(Qt.BrushStyle.NoBrush)
    if item.closed:
        p.drawPolygon(shape)
    else:
        p.drawPolyline(shape)


def _area(shapes: Sequence[Array], rule: Qt.FillRule) -> QPainterPath:
    """Closed shapes as one path."""
    sound = [q for q in shapes if len(q) > 1]
    return path_of(np.concatenate(sound), np.array([len(q) for q in sound]), rule) if sound else QPainterPath()


def _words(p: QPainter, item: Text, scale: float, look: Look) -> None:
    font = QFont("Lato")
    font.setPixelSize(max(1, round(item.size * scale)))
    p.setFont(font)
    p.setPen(_colour(look.fill, 1.0))
    x, y = item.at[0] * scale, item.at[1] * scale
    width = QFontMetricsF(font).horizontalAdvance(item.words)
    p.drawText(QPointF(x - width * (item.align + 1) / 2, y), item.words)


def to_image(
    page: Picture, pencil: str = "blue", dpi: int = PNG_DPI, ground: bool = True, part: tuple[int, int, int, int] | None = None
) -> QImage:
    """A page in millimetres as an image, or a part of it (left, top, width, height in its pixels).

    Raises
    ------
    ProjectError
        More pixels than a picture may have.
    """
    scale = dpi / 25.4
    x, y, w, h = part or (0, 0, *page_size(page, dpi))
    image = QImage(w, h, QImage.Format.Format_RGB32 if ground else QImage.Format.Format_ARGB32_Premultiplied)
    image.fill(Qt.GlobalColor.white if ground else Qt.GlobalColor.transparent)
    p = QPainter(image)
    try:
        p.translate(-page.box[0] * scale - x, -page.box[1] * scale - y)
        paint(p, page, scale, looks(pencil), scale)
    finally:
        p.end()
    return image


def page_size(page: Picture, dpi: int = PNG_DPI) -> tuple[int, int]:
    """Pixels of a page in millimetres.

    Raises
    ------
    ProjectError
    """
    w, h = round(page.box[2] * dpi / 25.4), round(page.box[3] * dpi / 25.4)
    if max(w, h) > MAX_PNG_SIDE:
        raise ProjectError(f"At {dpi} dots per inch the page would be {w} × {h} pixels; choose a smaller head.")
    return w, h


def to_png(page: Picture, pencil: str = "blue") -> bytes:
    return encoded(to_image(page, pencil), ".png", PNG_DPI)


def encoded(image: QImage, ending: str, dpi: int = 0) -> bytes:
    """An image as PNG (told its resolution, where ``dpi`` is given) or JPEG.

    Qt's own writers ask a buffer made in Python while they hold a lock that the interface thread may wait for; these bytes
    are made without one, and quicker.
    """
    import cv2

    alpha = image.hasAlphaChannel()
    plain = image.convertToFormat(QImage.Format.Format_ARGB32 if alpha else QImage.Format.Format_RGB32)
    rows = np.frombuffer(plain.constBits(), np.uint8).reshape(plain.height(), plain.bytesPerLine())
    bgra = rows[:, : 4 * plain.width()].reshape(plain.height(), plain.width(), 4)
    if ending == ".jpg":
        ok, data = cv2.imencode(".jpg", np.ascontiguousarray(bgra[..., :3]), [cv2.IMWRITE_JPEG_QUALITY, 92])
    else:
        pixels = bgra if alpha else np.ascontiguousarray(bgra[..., :3])
        # drawn lines on an even ground: a row's own runs shrink as well as what filters make of them, in half the time
        ok, data = cv2.imencode(
            ".png", pixels, [cv2.IMWRITE_PNG_COMPRESSION, 1, cv2.IMWRITE_PNG_FILTER, cv2.IMWRITE_PNG_FILTER_NONE]
        )
    if not ok:
        raise ProjectError("The picture could not be encoded.")
    raw = data.tobytes()
    return _with_resolution(raw, dpi) if dpi and ending == ".png" else raw


def _with_resolution(png: bytes, dpi: int) -> bytes:
    """A PNG with its pixels per metre said, right behind its header."""
    per_metre = round(dpi / 0.0254)
    return png[:33] + _chunk(b"pHYs", struct.pack(">IIB", per_metre, per_metre, 1)) + png[33:]


def _chunk(kind: bytes, body: bytes) -> bytes:
    return struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))


def save_image(image: QImage, path: str | Path) -> None:
    """Write an image as PNG or JPEG, as the file's ending says, all or nothing; may run off the interface thread.

    Raises
    ------
    ProjectError
    """
    ending = Path(path).suffix.lower()
    write_whole(path, encoded(image, ".jpg" if ending in (".jpg", ".jpeg") else ".png"))


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


def to_ora(page: Picture, pencil: str = "blue", say: Say = lambda _: True) -> bytes:
    """A page as OpenRaster: paper, then one transparent layer a stage, each in its own colour and opacity.

    Raises
    ------
    ProjectError
    Cancelled
        ``say`` wants no more.
    """
    whole = to_image(page, pencil)
    size = (whole.width(), whole.height())
    small = whole.scaled(THUMB, THUMB, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation)
    with ThreadPoolExecutor(ENCODERS) as encoders:
        merged = encoders.submit(encoded, whole, ".png", PNG_DPI)
        made = []
        for k, layer in enumerate(page.layers):
            _go_on(say, f"Writing layer {k + 1} of {len(page.layers)}…")
            own, opacity = stage_pencil(layer.id, pencil)
            shown = replace(page, layers=(replace(layer, visible=True),))
            part = _drawn_part(shown, size)
            png = encoders.submit(encoded, to_image(shown, own, ground=False, part=part), ".png")
            made.append((layer, opacity, part[:2], png))
            if k >= ENCODERS:
                made[k - ENCODERS][3].result()  # no more pictures at once than are being encoded
        layers = [Raster("Paper", _white(*size))]
        layers += [Raster(layer.title, png.result(), opacity, layer.visible, at) for layer, opacity, at, png in made]
        _go_on(say, "Writing the whole…")
        return pack(layers, merged.result(), encoded(small, ".png"), size, PNG_DPI)


ENCODERS = 2
"""Layers encoded at once."""


def _white(w: int, h: int) -> bytes:
    """A white sheet as PNG of one bit a pixel."""
    row = b"\0" + b"\xff" * ((w + 7) // 8)
    head = struct.pack(">IIBBBBB", w, h, 1, 0, 0, 0, 0)
    chunks = ((b"IHDR", head), (b"IDAT", zlib.compress(row * h, 1)), (b"IEND", b""))
    return b"\x89PNG\r\n\x1a\n" + b"".join(_chunk(kind, body) for kind, body in chunks)


def _go_on(say: Say, words: str) -> None:
    if not say(words):
        raise Cancelled("Stopped; nothing was written.")


def _drawn_part(page: Picture, size: tuple[int, int], dpi: int = PNG_DPI) -> tuple[int, int, int, int]:
    """The part of a page's pixels that anything is drawn on: left, top, width, height; one pixel where nothing is."""
    scale, low, high = dpi / 25.4, [], []
    for item in (i for layer in page.layers for i in layer.items):
        if isinstance(item, Text):
            reach = np.array([len(item.words) + 1.0, 1.5]) * item.size
            low.append(np.array(item.at) - reach)
            high.append(np.array(item.at) + reach)
        elif len(item.points):
            low.append(item.points.min(0) - WIDEST_PEN)
            high.append(item.points.max(0) + WIDEST_PEN)
    if not low:
        return 0, 0, 1, 1
    corner = np.array(page.box[:2])
    a = np.clip(np.floor((np.min(low, 0) - corner) * scale), 0, np.array(size) - 1).astype(int)
    b = np.clip(np.ceil((np.max(high, 0) - corner) * scale), a + 1, size).astype(int)
    return int(a[0]), int(a[1]), int(b[0] - a[0]), int(b[1] - a[1])


def to_pdf(page: Picture, pencil: str = "blue") -> bytes:
    """A page in millimetres as PDF, exactly that size."""
    with tempfile.TemporaryDirectory(prefix="orthomet-") as folder:
        held = Path(folder) / "page.pdf"
        writer = QPdfWriter(str(held))
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
        return held.read_bytes()


def html_as_pdf(html: str) -> bytes:
    """A page of words and pictures as A4 pages."""
    from PySide6.QtGui import QTextDocument

    with tempfile.TemporaryDirectory() as folder:
        held = Path(folder) / "page.pdf"
        writer = QPdfWriter(str(held))
        writer.setPageSize(QPageSize(QPageSize.PageSizeId.A4))
        writer.setPageMargins(QMarginsF(15, 15, 15, 15))
        writer.setResolution(PDF_WORDS_DPI)
        text = QTextDocument()
        text.setHtml(html)
        text.print_(writer)
        return held.read_bytes()


PDF_WORDS_DPI = 110
KINDS = {".svg": "SVG", ".pdf": "PDF", ".png": "PNG", ".ora": "Layers, OpenRaster"}
"""Endings a page is written under, with their words."""


def write_page(page: Picture, path: str | Path, pencil: str = "blue", say: Say = lambda _: True) -> None:
    """Write a page as ``.svg``, ``.png``, ``.pdf`` or layered ``.ora``, by the file's ending, all or nothing.

    ``say`` is told how far it is and answers False to stop it; any thread may write.

    Raises
    ------
    ProjectError
        An unknown ending, or a target that cannot be written.
    Cancelled
        ``say`` wants no more; nothing was written.
    """
    p = Path(path)
    kind = p.suffix.lower()
    if kind not in KINDS:
        raise ProjectError(f"Guides are written as .svg, .pdf, .png or .ora; {quoted(p.name)} is none of them.")
    try:
        if kind == ".svg":
            data = to_svg(page, pencil).encode()
        elif kind == ".png":
            data = to_png(page, pencil)
        elif kind == ".pdf":
            data = to_pdf(page, pencil)
        else:
            data = to_ora(page, pencil, say)
    except OSError as e:
        raise ProjectError(f"{p.name} cannot be written: {in_words(e)}.") from None
    _go_on(say, f"Writing {p.name}…")
    write_whole(p, data)
