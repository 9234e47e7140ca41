"""The handbook: its links lead somewhere, and every figure in it is one that the application computes with."""

import re
from dataclasses import replace

import pytest

from honest_edge.app.handbook.figures import BLEEDS_MM, NAMES, clean_share, figure
from honest_edge.app.handbook.pages_of import ORDER, TOPICS, drawing, found, page
from honest_edge.app.results.compute_overview import compute_overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.layers import AS_DRAWN, Layer, Shape
from honest_edge.core.values.marks import MarkSpec
from honest_edge.core.values.run_times import RunTimes
from honest_edge.core.values.specs import CRISP_PPI, SCHOOL_DEFAULTS
from honest_edge.core.values.units import short_length

PICTURES = re.compile(r"!\[\]\(drawing:([a-z]+)\)")
LINKS = re.compile(r"\]\(([^)]*)\)")
ALLOWED = re.compile(r"\{[a-z_0-9]+\}|^\d+\. |F1|F8|“3/16 in”|“1,5 mm”|“15 px”|PNG|A4|A6|Ctrl\+\S+", re.MULTILINE)
"""Where a digit is no figure: in a placeholder, an item's number, a key, an example of what can be typed."""


def millimetres(length_mm):
    return short_length(length_mm, "mm")


@pytest.mark.parametrize("topic", TOPICS)
def test_a_page_is_whole(topic):
    one = page(topic)
    assert one.text.startswith("# ")
    assert one.title
    for link in LINKS.findall(one.text):
        kind, _, target = link.partition(":")
        assert kind in ("page", "drawing"), link
        if kind == "page":
            assert page(target).title
        else:
            assert "<svg" in drawing(target)
    assert set(re.findall(r"\{([a-z_0-9]+)\}", one.text)) <= NAMES
    assert "{" not in one.filled(millimetres)


@pytest.mark.parametrize("topic", TOPICS)
def test_no_figure_is_typed_into_a_page(topic):
    assert not re.findall(r".*\d.*", ALLOWED.sub("", page(topic).text))


def test_every_drawing_and_every_figure_is_used():
    text = "".join(page(topic).text for topic in TOPICS)
    assert {name for name in NAMES if f"{{{name}}}" not in text} <= {"bleed_offset", "bare_offset"}
    assert len(TOPICS) == len(set(TOPICS)) == sum(len(topics) for _, topics in ORDER)
    with pytest.raises(KeyError):
        page("nothing")


def test_figures_are_those_that_are_computed_with():
    assert figure("usual_bleed", millimetres) == millimetres(SCHOOL_DEFAULTS["bleed"].bleed_mm) == "1.27 mm"
    assert figure("mark_inset", millimetres) == millimetres(MarkSpec().inset_mm)
    assert figure("crisp_ppi", millimetres) == f"{CRISP_PPI:.0f}"
    assert figure("dry_min", millimetres) == f"{RunTimes().dry_s / 60:.0f}"
    assert "0.05 in" in page("bleed").filled(lambda length_mm: short_length(length_mm, "in"))


@pytest.mark.parametrize("bleed_mm", BLEEDS_MM)
def test_the_shares_of_its_table_are_what_edge_forecasts(bleed_mm):
    shape = Layer(key="d", shape=Shape(kind="oval", width_mm=40, height_mm=40))
    edge = replace(SCHOOL_DEFAULTS["bleed"], bleed_mm=bleed_mm)
    job = Job(designs=(Design(key="d1", name="Disc", outline=AS_DRAWN, edge=edge, layers=(shape,)),))
    result = compute_overview(job, Pipeline({})).results["d1"]
    assert result.forecast.share_clean == pytest.approx(clean_share(bleed_mm), abs=0.012)


def test_words_are_found_and_titles_come_first():
    assert found("forecast")[0].topic == "forecast"
    assert found("dull blade")[0].topic in ("blades", "wrong")
    assert "marks" in [one.topic for one in found("matt tape")]
    assert found("") == ()
    assert found("zebra crossing") == ()
