"""What is worked out once for each object, and not for one object after the other."""

import threading

from honest_edge.core.values.lazy import lazy_property

PATIENCE_S = 30


class Holder:
    def __init__(self, work):
        self.work = work

    @lazy_property
    def value(self):
        """What it is."""
        return self.work()


def test_it_is_worked_out_once_for_each_object():
    made = []
    one, two = (Holder(lambda: made.append(1) or len(made)) for _ in range(2))
    assert (one.value, one.value, two.value, two.value) == (1, 1, 2, 2)
    assert Holder.value.__doc__ == "What it is."


def test_two_objects_work_at_the_same_time():
    """With the lock of Python 3.11's ``functools.cached_property`` neither would ever meet the other."""
    meeting = threading.Barrier(2)
    holders = [Holder(lambda: meeting.wait(PATIENCE_S)) for _ in range(2)]
    threads = [threading.Thread(target=lambda holder=holder: holder.value) for holder in holders]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(2 * PATIENCE_S)
    assert not meeting.broken
    assert sorted(vars(holder)["value"] for holder in holders) == [0, 1]
