"""Readings as a table in CSV: one row a reading, the norm beside it."""

from __future__ import annotations

import csv
import io

import numpy as np

from ..proportions.measure import Measured
from ..proportions.norms import Norm, z_scores

COLUMNS = ("reading", "label", "value", "unit", "state", "uncertainty", "norm", "sd", "z", "needs")


def _plain(v: float) -> str:
    return f"{v:.6g}" if np.isfinite(v) else ""


def safe(words: str) -> str:
    """A cell no spreadsheet takes for a formula."""
    return f"'{words}" if words[:1] in "=+-@\t\r" else words


def readings_csv(m: Measured, against: Norm) -> str:
    """The readings of one face; ``against`` is laid out over the same registry. Unsure readings have no z."""
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\n")
    table.writerow(COLUMNS)
    z = z_scores(m.values, against, m.registry)
    for i, r in enumerate(m.registry.readings):
        state = m.states[i]
        table.writerow([
            r.key, safe(r.label), _plain(m.values[i]), r.unit, str(state) if state else "not measured", _plain(m.noise[i]) if state else "",
            _plain(against.mean[i]), _plain(against.sd[i]), _plain(z[i]) if m.sure(r.key) else "", " ".join(sorted(r.needs)),
        ])  # fmt: skip
    return out.getvalue()
