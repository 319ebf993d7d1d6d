"""``orthomet check-set``: a folder of drawings of one character checked, with a report."""

from __future__ import annotations

import argparse
import os
import sys
from typing import Any

from ..core.errors import FormatError, quoted
from .common import headless_qt, print_json

ENDINGS = (".html", ".pdf", ".csv")


def arguments(q: argparse.ArgumentParser, number: Any) -> None:
    q.add_argument(
        "drawings", nargs="+", metavar="FOLDER|LANDMARKS.json|PICTURE", help="pictures have their landmark file beside them"
    )
    q.add_argument("--against", required=True, metavar="LANDMARKS.json|PROJECT[:CHARACTER]")
    q.add_argument(
        "--noise", type=number, metavar="HEADS", help="how well the points are marked, as a share of the head; usual 0.003"
    )
    q.add_argument("--out", metavar="REPORT.html|.pdf|.csv")
    q.add_argument("--jobs", type=int, default=0, metavar="N", help="how many at a time; usual: one a core")


def check_set(o: argparse.Namespace) -> int:
    if "numpy" not in sys.modules:  # many small problems, on every core: one thread each
        os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
    from ..core.check.batch import against_of, check_all, drawings_in
    from ..core.check.report import summary

    if o.noise is not None and not 0 <= o.noise <= 0.05:
        raise FormatError("The landmark noise is a share of the head, from 0 to 0.05.")
    if not 0 <= o.jobs <= 256:
        raise FormatError("--jobs is a number from 1 to 256, or 0 for one a core.")
    if o.out and not o.out.lower().endswith(ENDINGS):
        raise FormatError(f"A report is written as {', '.join(ENDINGS)}; {quoted(o.out)} is none of them.")
    drawings, against = drawings_in(o.drawings), against_of(o.against, o.noise)
    told = sys.stderr.isatty() or not o.json

    def say(done: int) -> bool:
        if told and (done == len(drawings) or done % 20 == 0):
            print(f"checked {done} of {len(drawings)}", file=sys.stderr)
        return True

    rows = check_all(drawings, against, o.jobs, say)
    if o.out:
        _write(o.out, rows, o.against)
    if o.json:
        print_json({"drawings": [
            {"file": r.file, "findings": [f.__dict__ for f in r.findings], "passed": list(r.passed), "error": r.error or None} for r in rows
        ]})  # fmt: skip
    else:
        for r in rows:
            print(f"{r.file}: {r.error or ('; '.join(f.say for f in r.findings) or 'as planned')}")
        print(summary(rows))
    return int(any(r.findings for r in rows))


def _write(path: str, rows: Any, against: str) -> None:
    from pathlib import Path

    from ..core.check.report import as_csv, as_html
    from ..core.files import write_whole

    html = "" if path.lower().endswith(".csv") else as_html(rows, f"Checked against {Path(against.split(':')[0]).stem}")
    if path.lower().endswith(".csv"):
        write_whole(path, as_csv(rows).encode())
    elif path.lower().endswith(".html"):
        write_whole(path, html.encode())
    else:
        headless_qt()
        from ..app.render import html_as_pdf

        write_whole(path, html_as_pdf(html))
