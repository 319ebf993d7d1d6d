"""The project's format keeps its word: what is saved changes only with a new version, and old files go on opening."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

from orthomet.core.features.table import features
from orthomet.core.project.fit import fit
from orthomet.core.project.migrate import STEPS
from orthomet.core.project.model import FORMAT_VERSION, Project
from orthomet.core.project.store import Stored, from_json, read_json, to_json
from orthomet.demo.project import demo_project

FIELDS = Path(__file__).with_name("format_fields.json")
"""Every field of the record, as it stood when its format was given its number. ``python -m tests.core.test_format`` writes it."""


def fields() -> dict[str, Any]:
    """The saved record's fields with type and bounds, without words and defaults, by model."""

    def plain(x: Any) -> Any:
        if isinstance(x, dict):
            return {k: plain(v) for k, v in sorted(x.items()) if k not in ("title", "description", "default")}
        return [plain(v) for v in x] if isinstance(x, list) else x

    schema = Project.model_json_schema()
    return {"Project": plain(schema["properties"])} | {
        name: plain(body.get("properties", body.get("enum"))) for name, body in sorted(schema["$defs"].items())
    }


def test_no_field_changes_without_a_new_version() -> None:
    """Whoever adds, drops or narrows a field gives the format a new number, writes the step to it, and notes the fields anew."""
    noted = json.loads(FIELDS.read_text())
    assert noted["format_version"] == FORMAT_VERSION, "note the fields of the new version: python -m tests.core.test_format"
    assert fields() == noted["fields"], (
        "the saved record changed: raise FORMAT_VERSION, add a step to migrate.py, tell docs/format.md"
    )


def test_every_version_has_its_step_and_its_place_in_the_documentation() -> None:
    assert sorted(STEPS) == list(range(1, FORMAT_VERSION))
    told = (Path(__file__).parents[2] / "docs" / "format.md").read_text(encoding="utf-8")
    assert f"version {FORMAT_VERSION}" in told.lower() or f"`format_version` {FORMAT_VERSION}" in told.lower()


def saved(**values: Any) -> dict[str, Any]:
    body = json.loads(to_json(demo_project().project))
    body["characters"][0]["features"] = {"values": values, "absent": [], "marks": []}
    return body


def test_narrowed_bounds_are_kept_to_and_told(monkeypatch: pytest.MonkeyPatch) -> None:
    """A dial's range in the data file was narrowed after a project was saved: the project opens, the value is held, a sentence says so."""
    p = next(p for p in features()["eyes"].parameters if not p.options)
    body = saved(eyes={p.key: p.high})
    narrow = p.model_copy(update={"high": p.low + 0.5 * (p.high - p.low)})
    eyes = features()["eyes"]
    now = eyes.model_copy(update={"parameters": [narrow if q.key == p.key else q for q in eyes.parameters]})
    monkeypatch.setitem(features(), "eyes", now)
    project, told = read_json(json.dumps(body), "It")
    assert project.characters[0].features.values["eyes"][p.key] == narrow.high
    assert len(told) == 1 and p.words.lower() in told[0] and f"{narrow.high:g}" in told[0]


@pytest.mark.parametrize("values", [{"antlers": {"tines": 3}}, {"eyes": {"glow": 1.0}}])
def test_what_the_library_lost_is_left_out_and_told(values: dict[str, Any]) -> None:
    project, told = read_json(json.dumps(saved(**values)), "It")
    assert len(told) == 1 and project.characters[0].features.values in ({}, {"eyes": {}})


def test_what_fits_is_untouched_and_what_is_no_record_is_left_to_the_model() -> None:
    body = json.loads(to_json(demo_project().project))
    before = json.dumps(body)
    assert fit(body) == () and json.dumps(body) == before
    for odd in (
        {"characters": 3},
        {"characters": [7, {"features": []}]},
        {"characters": [{"features": {"values": {"eyes": 4}, "absent": "x"}}]},
    ):
        kept = json.dumps(odd)
        assert fit(odd) == () and json.dumps(odd) == kept
    assert from_json(before) == demo_project().project and Stored(Project()).told == ()


if __name__ == "__main__":
    FIELDS.write_text(json.dumps({"format_version": FORMAT_VERSION, "fields": fields()}, indent=1, sort_keys=True) + "\n")
