"""Pictures as SVG at true size: one plain group with an id and a title per layer."""

from __future__ import annotations

import re
from collections.abc import Mapping
from xml.sax.saxutils import escape, quoteattr

from ..errors import FormatError
from ..ink.stroke import outline
from ..kinds import Array
from ..picture import Ink, Picture, Text, Trace
from .look import Look, looks, tinted

FACET = 0.4
"""Millimetres from corner to corner of an inked outline."""
_ANCHOR = {-1: "start", 0: "middle", 1: "end"}


def to_svg(picture: Picture, pencil: str = "blue") -> str:
    """The picture as SVG text. Its unit must be millimetres, so that the page has its true size.

    Raises
    ------
    FormatError
        A picture that is not laid out in millimetres.
    """
    if picture.unit != "mm":
        raise FormatError("Only a page in millimetres can be written at its true size.")
    table = tinted(looks(pencil), picture.tints)
    x, y, w, h = picture.box
    out = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{w:.4g}mm" height="{h:.4g}mm" viewBox="{x:.4f} {y:.4f} {w:.4f} {h:.4f}">',
        f"<title>{escape(picture.title)}</title>",
    ]
    for note in picture.notes:
        out.append(f"<desc>{escape(note)}</desc>")
    for layer in picture.layers:
        hidden = "" if layer.visible else ' visibility="hidden"'
        out += [f"<g id={quoteattr(_id(layer.id))}{hidden}>", f"<title>{escape(layer.title)}</title>"]
        out += [_item(i, table) for i in layer.items]
        out.append("</g>")
    return "\n".join([*out, "</svg>", ""])


def _id(name: str) -> str:
    return re.sub(r"[^A-Za-z0-9_.-]", "-", name)


def _item(item: Trace | Text, table: Mapping[Ink, Look]) -> str:
    look = table[item.role]
    if isinstance(item, Text):
        size = f'font-size="{item.size:.3f}" font-family="Lato, sans-serif" text-anchor="{_ANCHOR[item.align]}"'
        return f'<text x="{item.at[0]:.3f}" y="{item.at[1]:.3f}" {size} fill="{look.fill}">{escape(item.words)}</text>'
    name = f" data-name={quoteattr(item.name)}" if item.name else ""
    if item.widths is not None:  # an inked stroke: what it fills
        d = "".join(_ring(q, True) for q in outline(item.points, item.widths, item.closed, FACET))
        opacity = f' fill-opacity="{look.opacity:g}"' if look.opacity < 1 else ""
        return f'<path d="{d}"{name} fill="{look.colour}" fill-rule="nonzero"{opacity} stroke="none"/>'
    if item.plain is not None:  # it stays the shape it is
        from ..shapes.svg import element

        if item.filled:
            style = f'fill="{look.fill}" fill-opacity="{look.opacity:g}" stroke="none"'
        else:
            style = f'fill="none" stroke="{look.colour}" stroke-width="{look.width:g}" stroke-opacity="{look.opacity:g}"'
        return element(item.plain, f"{name.strip()} {style}".strip())
    d = _ring(item.points, item.closed) + "".join(_ring(h, True) for h in item.holes)
    if item.filled:
        rule = ' fill-rule="evenodd"' if item.holes else ""
        return f'<path d="{d}"{name} fill="{look.fill}" fill-opacity="{look.opacity:g}"{rule} stroke="none"/>'
    opacity = f' stroke-opacity="{look.opacity:g}"' if look.opacity < 1 else ""
    return (
        f'<path d="{d}"{name} fill="none" stroke="{look.colour}" stroke-width="{look.width:g}"{opacity} '
        'stroke-linecap="round" stroke-linejoin="round"/>'
    )


def _ring(points: Array, closed: bool) -> str:
    return "M" + "L".join(f"{x:.3f} {y:.3f}" for x, y in points.tolist()) + ("Z" if closed else "")
