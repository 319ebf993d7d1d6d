"""``orthomet check`` on turned heads and on faces that make a face."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

from orthomet.cli import main
from orthomet.core.landmarks.files import landmarks_to_text
from tests.faces import marks_of


@pytest.fixture
def plan(tmp_path: Path) -> Path:
    where = tmp_path / "plan.json"
    where.write_text(landmarks_to_text(marks_of()))
    return where


def drawing(plan: Path, capsys: Any, *how: str, turn: dict[str, float] | None = None, low: float = 0.0) -> Path:
    """A landmark file of the head as ``orthomet head`` lays it, the mouth so many heads too low."""
    assert main(["head", str(plan), "--no-hair", "--json", *how]) == 0
    marks = json.loads(capsys.readouterr().out)["landmarks"]
    body = json.loads(plan.read_text())
    mouth = ("stomion", "cheilion", "labiale", "sublabiale")
    body["points"] = {
        n: [700 * v["xy"][0] + 900, 700 * (v["xy"][1] + low * n.startswith(mouth)) + 900]
        for n, v in marks.items()
        if v["visible"] and v["xy"][0] is not None
    }
    if turn is not None:
        body["turn"] = turn
    out = plan.with_name("drawing.json")
    out.write_text(json.dumps(body))
    return out


def told(capsys: Any, *words: str) -> dict[str, Any]:
    assert main(["check", *words, "--json"]) == 0
    return dict(json.loads(capsys.readouterr().out))


def test_a_turned_head_is_checked_in_the_senses_of_the_head_command(plan: Path, capsys: Any) -> None:
    f = drawing(plan, capsys, "--yaw", "30", "--pitch", "-6", "--roll", "4", low=0.05)
    j = told(capsys, str(f), "--against", str(plan), "--view", "turned", "--rivals")
    assert (j["pose"]["yaw"], j["pose"]["pitch"], j["pose"]["roll"]) == pytest.approx((30, -6, 4), abs=1.0)
    assert "mouth" in j["findings"][0]["say"] and j["findings"][0]["say"].startswith("Raise") and j["rivals"]
    assert j["expression"] == "neutral" and not j["shapes"]
    assert main(["check", str(f), "--against", str(plan), "--view", "turned"]) == 0
    assert "turned 30° to the picture's right and looks 6° up" in capsys.readouterr().out


def test_the_view_is_what_the_file_says(plan: Path, capsys: Any) -> None:
    f = drawing(plan, capsys, "--yaw", "-25", turn={"yaw": -25, "pitch": 0, "roll": 0, "spread": 3})
    assert not told(capsys, str(f), "--against", str(plan))["findings"]
    assert told(capsys, str(f), "--against", str(plan), "--view", "front")["findings"]
    assert main(["check-set", str(f), "--against", str(plan)]) == 0  # a set looks at every file as it says itself
    capsys.readouterr()
    assert main(["check", str(f), "--against", str(plan), "--view", "figure"]) == 2
    assert "does not fit" in capsys.readouterr().err
    for basis in ("self", "norm"):
        assert "pose" in told(capsys, str(f), "--basis", basis)


def test_a_laugh_is_worn_not_built(plan: Path, capsys: Any) -> None:
    f = drawing(plan, capsys, "--expression", "glad")
    assert told(capsys, str(f), "--against", str(plan))["findings"]
    j = told(capsys, str(f), "--against", str(plan), "--expression", "auto")
    assert j["expression"] == "glad" and not j["findings"] and not j["shapes"]
    assert main(["check", str(f), "--against", str(plan), "--expression", "AUTO "]) in (0, 2)
    capsys.readouterr()
    assert main(["check", str(f), "--against", str(plan), "--expression", "sleepy"]) == 2
    assert "sleepy" in capsys.readouterr().err
    assert main(["check", str(f), "--basis", "self", "--expression", "glad"]) == 2
    assert "no expression to be taken off" in capsys.readouterr().err
