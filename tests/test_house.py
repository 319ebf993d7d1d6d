"""The walls stand: who may import whom, scripts that parse, nothing half built."""

from __future__ import annotations

import ast
import re
import subprocess
import sys
from collections.abc import Iterator
from graphlib import CycleError, TopologicalSorter
from pathlib import Path
from typing import Any

import pytest

from orthomet.app.application import display_problem

ROOT = Path(__file__).resolve().parent.parent
PACKAGE = ROOT / "orthomet"
MODULES = sorted(PACKAGE.rglob("*.py"))
STATIONS = {p.parent.name for p in (PACKAGE / "app" / "stations").glob("*/__init__.py")}


def imports(path: Path) -> Iterator[str]:
    """Absolute names of everything a module imports, late imports included."""
    here = ("orthomet", *path.relative_to(PACKAGE).with_suffix("").parts)
    if here[-1] == "__init__":
        here = (*here[:-1], "")
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.Import):
            yield from (a.name for a in node.names)
        elif isinstance(node, ast.ImportFrom):
            base = ".".join(here[: len(here) - node.level]) if node.level else ""
            full = ".".join(filter(None, [base, node.module]))
            yield full
            yield from (f"{full}.{a.name}" for a in node.names)


def inside(folder: str) -> list[Path]:
    return [m for m in MODULES if (PACKAGE / folder) in m.parents]


def test_core_knows_neither_qt_nor_the_application() -> None:
    for m in inside("core"):
        bad = [i for i in imports(m) if i.startswith(("PySide6", "shiboken6", "orthomet.app", "orthomet.demo", "orthomet.cli"))]
        assert not bad, (m, bad)


def test_stations_never_import_each_other() -> None:
    for station in STATIONS:
        others = STATIONS - {station}
        for m in inside(f"app/stations/{station}"):
            bad = [i for i in imports(m) if any(i.startswith(f"orthomet.app.stations.{o}") for o in others)]
            assert not bad, (m, bad)


def test_the_saved_model_knows_no_picture_contents_and_pictures_no_project() -> None:
    for m in inside("core/project"):
        assert not [i for i in imports(m) if i.startswith(("orthomet.core.imaging", "orthomet.core.head", "PIL"))], m
    assert not [i for i in imports(PACKAGE / "core" / "picture.py") if "project" in i or "export" in i]
    for m in inside("core/proportions"):
        assert not [
            i for i in imports(m) if i.startswith(("orthomet.core.plan", "orthomet.core.check", "orthomet.core.styles"))
        ], m


def test_the_window_is_light() -> None:
    """What is shown first must not load the core's heavy parts."""
    code = "import sys, orthomet.app.shell; print(sorted(m for m in sys.modules if m.split('.')[0] in ('numpy', 'scipy', 'pydantic', 'PIL', 'cv2')))"
    import sys

    p = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, timeout=60)
    assert p.stdout.strip() == "[]", p.stdout[:300]


@pytest.mark.parametrize("path", MODULES, ids=lambda p: str(p.relative_to(PACKAGE)))
def test_every_module_says_what_it_is_and_nothing_is_left_over(path: Path) -> None:
    text = path.read_text(encoding="utf-8")
    tree = ast.parse(text)
    if path.name not in ("__init__.py",) or tree.body:
        assert ast.get_docstring(tree) or path == PACKAGE / "__init__.py", path
    assert not re.search(r"\b(TODO|FIXME|XXX)\b|raise NotImplementedError", text)
    assert text.count("\n") <= 520
    stubs = [
        n.name for n in ast.walk(tree) if isinstance(n, ast.FunctionDef) and len(n.body) == 1 and isinstance(n.body[0], ast.Pass)
    ]
    assert not stubs


def test_scripts_parse_and_ci_runs_what_it_says() -> None:
    for script in ("tools/setup.sh", ".ci/run"):
        assert subprocess.run(["bash", "-n", str(ROOT / script)], capture_output=True).returncode == 0
    ci = (ROOT / ".ci" / "run").read_text()
    assert "make test" in ci and "make lint" in ci
    make = (ROOT / "Makefile").read_text()
    assert all(re.search(rf"^{t}:", make, re.M) for t in ("demo", "test", "lint", "bench", "shots"))
    readme = (ROOT / "README.md").read_text(encoding="utf-8")
    assert "make demo" in readme and "make test" in readme


def test_no_display_is_told_apart_from_a_chosen_platform(monkeypatch: Any) -> None:
    for name in ("QT_QPA_PLATFORM", "DISPLAY", "WAYLAND_DISPLAY"):
        monkeypatch.delenv(name, raising=False)
    assert "no display" in display_problem()
    monkeypatch.setenv("DISPLAY", ":7")
    assert display_problem() == ""
    monkeypatch.delenv("DISPLAY")
    monkeypatch.setenv("QT_QPA_PLATFORM", "offscreen")
    assert display_problem() == ""


@pytest.mark.parametrize("module", ["orthomet.app.document", "orthomet.app.stations.shapes", "orthomet.cli"])
def test_a_module_can_be_the_first_to_be_imported(module: str) -> None:
    """Qt's bindings read every module imported after them: one that asks for itself while it is half there breaks."""
    p = subprocess.run([sys.executable, "-c", f"import {module}"], capture_output=True, text=True, timeout=120)
    assert p.returncode == 0, p.stderr[-600:]


def test_fonts_ship_with_their_licences() -> None:
    folder = PACKAGE / "app" / "theme" / "fonts"
    assert {f.name for f in folder.glob("LICENSE-*")} == {"LICENSE-Lato.txt", "LICENSE-RoutedGothic.txt"}
    assert all(
        "OFL" in f.read_text(encoding="utf-8") or "Open Font License" in f.read_text(encoding="utf-8")
        for f in folder.glob("LICENSE-*")
    )
    assert len(list(folder.glob("*.ttf"))) == 5


def test_no_circle_of_imports() -> None:
    """By file, imports for types alone and late ones included: every file stands above all that it imports."""
    names = {".".join(("orthomet", *m.relative_to(PACKAGE).with_suffix("").parts)).removesuffix(".__init__"): m for m in MODULES}
    graph = {name: {i for i in imports(m) if i in names and i != name} for name, m in names.items()}
    try:
        TopologicalSorter(graph).prepare()
    except CycleError as e:
        raise AssertionError(" → ".join(e.args[1])) from None


COORDINATES = {"points", "registered", "field"}
"""Attributes that hold where landmarks lie."""
PASSED_ON = {"array", "get", "values", "items", "mean", "min", "max", "sum", "tolist"}


def _lies(node: ast.AST, known: set[str]) -> bool:
    """Whether an expression is landmark coordinates, or a part of them, with nothing but access in between."""
    if isinstance(node, ast.Name):
        return node.id in known
    if isinstance(node, ast.Attribute):
        return node.attr in COORDINATES
    if isinstance(node, ast.Subscript | ast.Starred):
        return _lies(node.value, known)
    if isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute):
        numpy = isinstance(node.func.value, ast.Name) and node.func.value.id == "np"
        return (not numpy and node.func.attr == "array") or (node.func.attr in PASSED_ON and _lies(node.func.value, known))
    if isinstance(node, ast.IfExp):
        return _lies(node.body, known) or _lies(node.orelse, known)
    return isinstance(node, ast.Tuple | ast.List) and any(_lies(e, known) for e in node.elts)


def _arithmetic(f: ast.FunctionDef) -> Iterator[str]:
    known: set[str] = set()
    for _ in range(3):  # names of names of names
        for n in ast.walk(f):
            if isinstance(n, ast.Assign) and _lies(n.value, known):
                known |= {
                    t.id for target in n.targets for t in ast.walk(target) if isinstance(t, ast.Name) and target is not n.value
                }
            elif isinstance(n, ast.For | ast.comprehension) and _lies(n.iter, known):
                known |= {t.id for t in ast.walk(n.target) if isinstance(t, ast.Name)}
    for n in ast.walk(f):
        if (isinstance(n, ast.BinOp) and (_lies(n.left, known) or _lies(n.right, known))) or (
            isinstance(n, ast.Call) and ast.unparse(n.func).startswith(("np.", "math.")) and any(_lies(a, known) for a in n.args)
        ):
            yield f"{n.lineno}: {ast.unparse(n)}"


def test_the_application_does_no_arithmetic_on_landmarks() -> None:
    """Where a landmark lies is the core's to work out: the application asks, maps to the screen, paints."""
    trade = ("level", "register", "mesh", "mirror")
    for m in inside("app"):
        if m.name == "render.py":  # paths of a picture that is drawn already
            continue
        found = [words for f in ast.walk(ast.parse(m.read_text())) if isinstance(f, ast.FunctionDef) for words in _arithmetic(f)]
        assert not found, (m.name, found)
        used = [i for i in imports(m) if i.startswith(tuple(f"orthomet.core.landmarks.{t}." for t in trade))]
        assert all(i.rsplit(".", 1)[1][0].isupper() for i in used), (m, used)  # their kinds of value, never their functions


def test_the_wall_would_be_seen_to_fall() -> None:
    bad = "def f(m, name):\n    xy = m.points[name]\n    top = xy\n    return top[1] - m.points['gnathion'][1]\n"
    (f,) = ast.parse(bad).body
    assert isinstance(f, ast.FunctionDef) and len(list(_arithmetic(f))) == 1
