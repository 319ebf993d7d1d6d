"""Shared set-up: no settings, journals or locks of the person who runs the tests are touched."""

from __future__ import annotations

import json
import os
from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings

settings.register_profile("any machine", deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("any machine")  # a busy machine is no finding

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")


@pytest.fixture(scope="session", autouse=True)
def qapp() -> Iterator[object]:
    """One application object for the whole run: a command that needs a painter would otherwise make a smaller one first."""
    from orthomet.app.application import make_application

    yield make_application()


@pytest.fixture(autouse=True)
def _own_home(tmp_path_factory: pytest.TempPathFactory, monkeypatch: pytest.MonkeyPatch) -> Iterator[None]:
    home = tmp_path_factory.mktemp("home")
    for name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME", "XDG_RUNTIME_DIR", "XDG_DATA_HOME"):
        monkeypatch.setenv(name, str(home / name.lower()))
    yield


@pytest.fixture
def landmark_file(tmp_path: Path):  # type: ignore[no-untyped-def]
    """Writes a landmark file and gives its path."""
    from orthomet.core.landmarks.files import landmarks_to_text
    from orthomet.core.landmarks.points import Landmarks

    def write(marks: Landmarks | dict, name: str = "face.json") -> str:
        path = tmp_path / name
        path.write_text(landmarks_to_text(marks) if isinstance(marks, Landmarks) else json.dumps(marks))
        return str(path)

    return write
