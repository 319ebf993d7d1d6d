"""The papers hold: sources are current, every screenshot is linked, no host or machine path is named."""

from __future__ import annotations

import re
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent


def test_sources_page_is_current() -> None:
    p = subprocess.run([sys.executable, "tools/sources.py", "--check"], cwd=ROOT, capture_output=True, text=True, timeout=60)
    assert p.returncode == 0, p.stderr


def test_every_screenshot_is_linked_and_every_link_exists() -> None:
    pages = [ROOT / "README.md", *sorted((ROOT / "docs").glob("*.md"))]
    text = {p: p.read_text(encoding="utf-8") for p in pages}
    shots = {s.name for s in (ROOT / "docs" / "screenshots").glob("*.png")}
    assert 5 <= len(shots) < 20
    assert all(any(name in t for t in text.values()) for name in shots), shots
    for page, t in text.items():
        for link in re.findall(r"\]\(([^)#:]+)\)", t):
            assert (page.parent / link).exists(), (page.name, link)


def test_guide_names_every_command() -> None:
    from orthomet.cli import COMMANDS

    guide = (ROOT / "docs" / "guide.md").read_text(encoding="utf-8")
    assert all(c in guide for c in COMMANDS if c != "open")
