"""Sound jobs made up by seed: nothing of them blocks. The benchmark asks 200."""

import pytest

from honest_edge.app.results.compute_overview import compute_overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.files.font_folder import FONT_FOLDER
from honest_edge.files.typefaces import FontLibrary
from sound_jobs import sound_job


@pytest.mark.slow
@pytest.mark.parametrize("seed", range(1000, 1016))
def test_a_sound_job_is_blocked_by_nothing(seed):
    job, assets = sound_job(seed)
    overview = compute_overview(job, Pipeline(assets, FontLibrary((FONT_FOLDER,))))
    assert [f.message for f in overview.findings if f.severity == "blocks"] == []
    assert overview.why_unwritten is None
