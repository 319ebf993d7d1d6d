"""Guide schools and their lines by edit."""

from __future__ import annotations

import pytest

from orthomet.core.project.edits import choose_school, set_school_line
from orthomet.core.styles.schools import school
from orthomet.demo.project import demo_project


def test_a_line_moves_as_far_as_its_school_lets_it() -> None:
    p = demo_project().project
    key, dial = next(iter(school(p.characters[0].decisions.school).settings.items()))
    far = set_school_line("berta", key, 99.0)(p).character("berta").decisions
    assert far.school_settings[key] == dial.high
    near = set_school_line("berta", key, dial.low + 0.3 * (dial.high - dial.low))(p).character("berta").decisions
    assert near.school_settings[key] == pytest.approx(dial.low + 0.3 * (dial.high - dial.low), abs=1e-4)
    assert set_school_line("berta", "no such line", 0.3)(p) == p


def test_another_school_starts_with_its_own_lines() -> None:
    p = demo_project().project
    key = next(iter(school(p.characters[0].decisions.school).settings))
    moved = set_school_line("berta", key, 99.0)(p)
    d = choose_school("berta", "framed-head")(moved).character("berta").decisions
    assert d.school == "framed-head" and d.school_settings == {}
