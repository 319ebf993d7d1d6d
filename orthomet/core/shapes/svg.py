"""Plain shapes as elements of an SVG that stay what they are: a circle a circle, a rectangle a rectangle."""

from __future__ import annotations

from math import cos, radians, sin

from ..kinds import Array
from .plain import Plain, outline


def element(s: Plain, style: str = "", scale: float = 1.0, at: tuple[float, float] = (0.0, 0.0)) -> str:
    """One element: ``<circle>``, ``<ellipse>``, ``<rect>`` or ``<path>``; lengths times ``scale``, then moved ``at``."""
    x, y = float(s.p[0]) * scale + at[0], float(s.p[1]) * scale + at[1]
    w, h = s.width * scale, s.height * scale
    turned = f' transform="rotate({s.turn:.4f} {x:.4f} {y:.4f})"' if abs(s.turn) > 1e-6 else ""
    style = f" {style}" if style else ""
    if s.kind == "circle":
        return f'<circle cx="{x:.4f}" cy="{y:.4f}" r="{w / 2:.4f}"{style}/>'
    if s.kind == "ellipse":
        return f'<ellipse cx="{x:.4f}" cy="{y:.4f}" rx="{w / 2:.4f}" ry="{h / 2:.4f}"{turned}{style}/>'
    if s.kind in ("rectangle", "rounded-rectangle", "capsule"):
        r = w / 2 if s.kind == "capsule" else s.radius() * scale if s.kind == "rounded-rectangle" else 0.0
        round_ = f' rx="{r:.4f}"' if r > 0 else ""
        return f'<rect x="{x - w / 2:.4f}" y="{y - h / 2:.4f}" width="{w:.4f}" height="{h:.4f}"{round_}{turned}{style}/>'
    if s.kind in ("triangle", "trapezoid", "kite") and s.radius() * scale < 1e-3 * min(w, h):
        t = radians(s.turn)
        q = [(x + (cos(t) * u - sin(t) * v) * scale, y + (sin(t) * u + cos(t) * v) * scale) for u, v in s.sharp()]
        return f'<path d="M{"L".join(f"{u:.4f} {v:.4f}" for u, v in q)}Z"{style}/>'
    return path(outline(s.kind, s.p, 120), style.strip(), scale, at)


def path(c: Array, style: str = "", scale: float = 1.0, at: tuple[float, float] = (0.0, 0.0), closed: bool = True) -> str:
    """A contour as a ``<path>``."""
    d = "L".join(f"{u * scale + at[0]:.4f} {v * scale + at[1]:.4f}" for u, v in c.tolist())
    return f'<path d="M{d}{"Z" if closed else ""}"{" " + style if style else ""}/>'


def page_of(elements: list[str], c: Array, title: str = "") -> str:
    """An SVG of its own in a contour's unit, a little paper round it."""
    from xml.sax.saxutils import escape

    low, high = c.min(0), c.max(0)
    room = 0.05 * float((high - low).max())
    x, y, w, h = float(low[0] - room), float(low[1] - room), float((high - low)[0] + 2 * room), float((high - low)[1] + 2 * room)
    head = f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="{x:.4f} {y:.4f} {w:.4f} {h:.4f}" width="{w:.4f}" height="{h:.4f}">'
    return "\n".join(['<?xml version="1.0" encoding="UTF-8"?>', head, f"<title>{escape(title)}</title>", *elements, "</svg>", ""])
