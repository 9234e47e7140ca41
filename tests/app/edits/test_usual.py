"""The usual takes what mends, and leaves what would make something else worse."""

from honest_edge.app.edits import usual as module
from honest_edge.app.edits.tried import TriedFix
from honest_edge.app.edits.usual import usual
from honest_edge.app.practice.jobs import close_backing
from honest_edge.app.results.compute_overview import compute_overview
from honest_edge.app.results.pipeline import Pipeline


def test_it_mends_what_proof_finds():
    pipeline = Pipeline({})
    overview = compute_overview(close_backing()[0], pipeline)
    assert [found.check for found in overview.findings] == ["ring"]
    found = usual(overview, "proof", pipeline)
    assert found.job != overview.job
    assert compute_overview(found.job, pipeline).findings == ()
    assert (found.why_not, len(found.steps)) == ("", 1)


def test_what_would_make_something_worse_is_left(monkeypatch):
    pipeline = Pipeline({})
    overview = compute_overview(close_backing()[0], pipeline)
    worse = TriedFix(job=overview.job, before=overview.job, is_mended=True, worse=overview.findings)
    monkeypatch.setattr(module, "tried", lambda *_a, **_k: worse)
    found = usual(overview, "proof", pipeline)
    assert (found.job, found.steps) == (overview.job, ())
