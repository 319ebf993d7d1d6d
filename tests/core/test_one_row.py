"""One row in the registry is all a new reading needs: it is measured, told in gauges and table, checked and planned."""

from __future__ import annotations

import json
import subprocess
import sys

from orthomet.core.check.rows import face_rows
from orthomet.core.proportions.registry import UNEVENNESS, Role, Rule, Tolerance, front_registry

SCRIPT = """
import json, sys
import orthomet.core.proportions.registry as registry
from orthomet.core.proportions.forms import FW, span
rows = registry._sizes
new = registry._one("brow_span_fw", "Brow ends apart", registry.SIZE, "Eyes", span("brow_outer"), FW, registry.DER,
                    "narrow/wide", "between the outer ends, in face widths", registry.Tolerance.INTERVAL)
registry._sizes = lambda: [*rows(), new]

from orthomet.core.check.rows import face_rows
from orthomet.core.export.table import readings_csv
from orthomet.core.project.model import Character, Marks, Reference
from orthomet.core.proportions.measure import measure
from orthomet.core.proportions.norms import norm
from orthomet.core.resolve import plan_of_style
from orthomet.core.gauges.reference import gauge_items
from tests.faces import marks_of
marks = marks_of()
m = measure(marks)
c = Character(id="a", name="A")
print(json.dumps({
    "measured": m.value("brow_span_fw"),
    "table": "brow_span_fw,Brow ends apart" in readings_csv(m, norm()),
    "gauge": [i.label for i in gauge_items(c, None, m, norm()) if i.key == "brow_span_fw"],
    "planned": float(plan_of_style("measured-adult").values[m.registry.index["brow_span_fw"]]),
    "checked": [r.rule for r in face_rows().rows if r.key == "brow_span_fw"],
}))
"""


def test_a_reading_is_added_in_one_row() -> None:
    done = subprocess.run([sys.executable, "-c", SCRIPT], capture_output=True, text=True, timeout=120)
    assert done.returncode == 0, done.stderr
    told = json.loads(done.stdout)
    assert 0.5 < told["measured"] < 0.9 and told["table"] and told["gauge"] == ["Brow ends apart"]
    assert 0.5 < told["planned"] < 0.9 and told["checked"] == ["interval"]


def test_facts_of_a_reading_are_its_fields() -> None:
    """Every one-sided reading names its partner, which names it back; the check's rows follow from the fields alone."""
    reg = front_registry()
    for r in reg.readings:
        assert bool(r.side) == bool(r.pair) and (not r.pair or (reg[r.pair].pair == r.key and reg[r.pair].side != r.side))
        if r.rule in UNEVENNESS or r.side:
            assert r.role is Role.BALANCE
    compared = {row.key for row in face_rows().rows}
    assert not any(reg[k].tolerance is Tolerance.NONE for k in compared)
    assert {r.key for r in reg.readings if r.rule is Rule.STATION} <= compared
