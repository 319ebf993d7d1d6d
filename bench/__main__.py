"""Run every measurement and print one line each."""

from __future__ import annotations

import os

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from . import checking, dragging, figure, following, hair, pictures, planning, posing, shapes, starting, turning, warping

for part in (planning, checking, following, dragging, turning, hair, figure, posing, shapes, warping, pictures, starting):
    part.run()
