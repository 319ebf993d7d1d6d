"""Work off the interface thread: results, progress, stopping, failures that are told."""

from __future__ import annotations

import threading
from typing import Any

from orthomet.app.work import Work
from orthomet.core.errors import PictureError


def test_results_come_back_in_turn_and_progress_is_told(qtbot: Any, qapp: Any) -> None:
    work, got, said = Work(), [], []
    work.busy.connect(said.append)

    def job(n: int) -> Any:
        return lambda say: (say(f"step {n}"), n)[1]

    for n in range(3):
        work.start(f"job {n}", job(n), got.append)
    qtbot.waitUntil(lambda: not work.active, timeout=5000)
    assert got == [0, 1, 2] and {"job 0", "step 2"} <= set(said) and said[-1] == ""


def test_what_was_stopped_never_arrives_and_the_job_is_told(qtbot: Any, qapp: Any) -> None:
    work, got, asked = Work(), [], []
    go, ended = threading.Event(), threading.Event()

    def job(say: Any) -> str:
        go.wait(5)
        asked.append(say("half way"))
        ended.set()
        return "late"

    work.start("long", job, got.append)
    work.cancel()
    go.set()
    qtbot.waitUntil(ended.is_set, timeout=5000)
    work.wait()
    qtbot.wait(20)
    assert asked == [False] and got == [] and not work.active


def test_failures_become_sentences(qtbot: Any, qapp: Any, caplog: Any) -> None:
    work, told = Work(), []
    work.failed.connect(told.append)

    def known(say: Any) -> None:
        raise PictureError("There is no face.")

    def unknown(say: Any) -> None:
        raise RuntimeError("secret")

    work.start("a", known, told.append)
    work.start("b", unknown, told.append)
    qtbot.waitUntil(lambda: not work.active, timeout=5000)
    assert told == ["There is no face.", "That could not be done; the log holds the details."] and "secret" in caplog.text
