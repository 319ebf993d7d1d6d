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
    assert told == ["There is no face.", "“b” could not be done; the log holds the details."] and "secret" in caplog.text


def test_a_result_nobody_asks_for_any_more_is_dropped(qtbot: Any, qapp: Any) -> None:
    """The question may have changed while the job ran: then neither its result nor its failure is told."""
    work, got, told = Work(), [], []

    def fails(say: Any) -> None:
        raise PictureError("There is no face.")

    work.start("a", lambda say: 1, got.append, still=lambda: False)
    work.start("b", fails, got.append, still=lambda: False, failed=told.append)
    work.start("c", lambda say: 3, got.append, still=lambda: True)
    work.start("d", fails, got.append, failed=told.append)
    qtbot.waitUntil(lambda: not work.active, timeout=5000)
    assert got == [3] and told == ["There is no face."]


def test_what_comes_and_cannot_be_used_is_told_too(qtbot: Any, qapp: Any, caplog: Any) -> None:
    work, told, busy = Work(), [], []
    work.failed.connect(told.append)
    work.busy.connect(busy.append)

    def take(_: object) -> None:
        raise KeyError("gone")

    work.start("Sorting…", lambda say: 1, take)
    qtbot.waitUntil(lambda: not work.active, timeout=5000)
    assert told == ["“Sorting” was done, but could not be shown; the log holds the details."] and "gone" in caplog.text
    assert busy[-1] == ""  # the bar does not run for ever


def test_one_of_several_jobs_is_given_up(qtbot: Any, qapp: Any) -> None:
    work, got = Work(), []
    go = threading.Event()
    work.start("first", lambda say: (go.wait(5), "first")[1], got.append)
    second = work.start("second", lambda say: "second", got.append)
    work.cancel(second)
    go.set()
    qtbot.waitUntil(lambda: not work.active, timeout=5000)
    work.wait()
    qtbot.wait(20)
    assert got == ["first"]
