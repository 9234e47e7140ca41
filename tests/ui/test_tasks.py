import threading

from honest_edge.core.values.errors import BlockedError, Cancelled
from honest_edge.ui.shared.tasks import LatestOnly, WorkerPool


def test_only_the_newest_answer_is_heard(qtbot):
    pool = WorkerPool(2)
    latest, answers, go = LatestOnly(pool), [], threading.Event()
    latest.done.connect(answers.append)

    def slow(*, report, cancelled):
        go.wait(10)
        return "old"

    latest.submit(slow)
    latest.submit(lambda *, report, cancelled: "new")
    qtbot.waitUntil(lambda: answers == ["new"])
    go.set()
    qtbot.waitUntil(lambda: not latest.busy)
    assert answers == ["new"]
    assert pool.wait(5)


def test_cancelled_work_stops_and_says_nothing(qtbot):
    pool = WorkerPool(2)
    latest, heard, began = LatestOnly(pool), [], threading.Event()
    for signal in (latest.done, latest.failed):
        signal.connect(heard.append)

    def endless(*, report, cancelled):
        began.set()
        while not cancelled():
            pass
        raise Cancelled

    latest.submit(endless)
    assert began.wait(5)
    latest.cancel()
    qtbot.waitUntil(lambda: not latest.busy)
    assert heard == []
    assert pool.wait(5)


def test_errors_are_told_in_words_and_faults_are_not_swallowed(qtbot):
    pool = WorkerPool(2)
    latest, told = LatestOnly(pool), []
    latest.failed.connect(told.append)

    def blocked(*, report, cancelled):
        raise BlockedError("it is too large")

    def faulty(*, report, cancelled):
        return 1 / 0

    for work in (blocked, faulty):
        latest.submit(work)
        qtbot.waitUntil(lambda: not latest.busy)
    assert told[0] == "it is too large"
    assert "ZeroDivisionError" in told[1]
    assert pool.wait(5)
