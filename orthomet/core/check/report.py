"""Checked drawings as a report: a page of its own with its pictures inside, or a table."""

from __future__ import annotations

import base64
import csv
import io
from collections import Counter
from collections.abc import Sequence
from html import escape
from pathlib import Path

from PIL import Image

from ..errors import OrthometError
from ..imaging.load import load, read_bytes
from ..proportions.registry import front_registry
from .batch import Checked

WIDE = 260
"""Pixels a picture is wide in a report."""
STYLE = """body{font:15px/1.45 sans-serif;color:#22272a;background:#fcfbf7;margin:2em auto;max-width:60em}
h1{font-weight:400}table{border-collapse:collapse;width:100%}td,th{text-align:left;vertical-align:top;padding:.5em .7em;border-top:1px solid #d3d8cd}
img{max-width:260px}.ok{color:#535b57}.bad{color:#8a5800}small{color:#535b57}"""


def summary(rows: Sequence[Checked]) -> str:
    """The whole in a sentence."""
    off, broken = sum(bool(r.findings) for r in rows), sum(bool(r.error) for r in rows)
    words = f"{len(rows)} drawings: {off} with findings, {len(rows) - off - broken} as planned"
    return words + (f", {broken} that could not be read." if broken else ".")


def as_html(rows: Sequence[Checked], title: str) -> str:
    """One file that opens without a network: pictures are inside."""
    often = Counter(f.reading for r in rows for f in r.findings).most_common(5)
    body = [f"<h1>{escape(title)}</h1>", f"<p>{escape(summary(rows))}</p>"]
    if often and often[0][1] > 1:
        labels = front_registry()
        told = ", ".join(f"{escape(labels[k].label.lower())} ({n})" for k, n in often if n > 1)
        body.append(f"<p>Most often: {told}.</p>")
    body.append("<table><tr><th>drawing</th><th>what to do</th></tr>")
    for r in rows:
        name = escape(Path(r.file).name)
        cell = f"<p class='bad'>{escape(r.error)}</p>" if r.error else _told(r)
        body.append(f"<tr><td>{name}{_picture(r)}</td><td>{cell}</td></tr>")
    body.append("</table>")
    head = (
        f"<!doctype html><html lang='en'><head><meta charset='utf-8'><title>{escape(title)}</title><style>{STYLE}</style></head>"
    )
    return f"{head}<body>{''.join(body)}</body></html>\n"


def _told(r: Checked) -> str:
    if not r.findings:
        return f"<p class='ok'>As planned; {len(r.passed)} readings pass.</p>"
    items = "".join(f"<li>{escape(f.say)}.</li>" for f in r.findings)
    return f"<ol>{items}</ol><small>{len(r.passed)} readings pass.</small>"


def _picture(r: Checked) -> str:
    if not r.picture:
        return ""
    try:
        pixels = load(read_bytes(r.picture), Path(r.picture).name).pixels
    except OrthometError:
        return ""
    im = Image.fromarray(pixels[..., :3])
    im.thumbnail((WIDE, 2 * WIDE))
    held = io.BytesIO()
    im.save(held, "JPEG", quality=82)
    return f"<br><img alt='' src='data:image/jpeg;base64,{base64.b64encode(held.getvalue()).decode()}'>"


def as_csv(rows: Sequence[Checked]) -> str:
    """A line a finding; a drawing without any has one line too."""
    out = io.StringIO()
    w = csv.writer(out)
    w.writerow(["file", "reading", "say", "difference_hh", "difference_px", "severity", "error"])
    for r in rows:
        for f in r.findings:
            w.writerow([r.file, f.reading, f.say, f"{f.difference_hh:.5f}", f"{f.difference_px:.1f}", f"{f.severity:.3f}", ""])
        if not r.findings:
            w.writerow([r.file, "", "", "", "", "", r.error])
    return out.getvalue()
