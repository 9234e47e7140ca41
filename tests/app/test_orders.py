"""Orders: how many are made, who gets which from which sheet, and variants."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from honest_edge.app.edits.orders import is_order, ordered_by_table, with_order
from honest_edge.app.output.packing_list import PACKING_NAME, packed_order
from honest_edge.app.output.prepare_files import output_names, prepare
from honest_edge.app.results.compute_overview import compute_overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.core.values.errors import UsageError
from honest_edge.core.values.job import Design, Job
from honest_edge.core.values.orders import OrderLine
from honest_edge.core.workshop.packing import packed, spare
from honest_edge.files.read_table import read_table
from pictures import disc_png

ASSETS = {"a": disc_png(radius=200.0, size=440, ppi=300)}
JOB = Job(
    designs=(
        Design(key="d1", name="Bee", asset="a", width_mm=36.0, copies=1, fills=True),
        Design(key="d2", name="Moth", asset="a", width_mm=36.0, copies=1, fills=True),
    )
)
TABLE = (
    b"design,quantity,for,size,ground,date\nBee,5,Anna,,,May\nMoth,3,Ben,,coloured,\nbee,2,Ben,30 mm,,\nBee,4,Cleo,,,\n"
)


def test_copies_are_as_many_as_are_ordered_and_go_with_the_order():
    job = with_order(JOB, [OrderLine(design="d1", quantity=5), OrderLine(design="d1", quantity=2, whom="Ben")])
    assert (job.design("d1").copies, job.design("d1").fills) == (7, False)
    assert job.design("d2").fills, "what is not ordered stays as it was"
    assert with_order(job, job.order[:1]).design("d1").copies == 5
    assert with_order(job, ()).design("d1").copies == 0
    assert job.without("d1").order == ()
    with pytest.raises(UsageError, match="does not have"):
        with_order(JOB, [OrderLine(design="d9", quantity=1)])


def test_a_table_that_names_designs_of_the_job_is_an_order_with_variants():
    table = read_table(TABLE, "order.csv")
    assert is_order(table, JOB)
    assert not is_order(table, Job())
    by_file = JOB.with_design(replace(JOB.design("d1"), name="Bee one"))
    assert is_order(read_table(b"art,copies\nbee-one.png,2\n", "t.csv"), by_file)
    assert not is_order(read_table(b"name,batch\nBee,1\n", "t.csv"), JOB)
    job = ordered_by_table(JOB, table)
    assert [(job.design(line.design).name, line.quantity, line.whom) for line in job.order] == [
        ("Bee", 5, "Anna"),
        ("Moth, coloured", 3, "Ben"),
        ("Bee, 30 mm", 2, "Ben"),
        ("Bee", 4, "Cleo"),
    ]
    assert job.order[0].note == "May"
    assert job.design("d1").copies == 9
    small = job.design(job.order[2].design)
    assert small.wanted.length_mm == 30.0
    assert job.design(job.order[1].design).edge.school == "bleed"
    with pytest.raises(UsageError, match=r"Row 1 of o\.csv: “mauve” is no ground"):
        ordered_by_table(JOB, read_table(b"design,qty,ground\nBee,1,mauve\n", "o.csv"))


def test_each_line_knows_its_sheets_and_the_packing_list_says_them():
    job = ordered_by_table(JOB, read_table(b"design,quantity,for\nBee,20,Anna\nMoth,9,Ben\nBee,10,Cleo\n", "o.csv"))
    pipeline = Pipeline(ASSETS)
    overview = compute_overview(job, pipeline)
    lines = packed_order(job, overview.plan, overview.laid)
    assert [one.short for one in lines] == [0, 0, 0]
    assert [sum(count for _, count in one.sheets) for one in lines] == [20, 9, 10]
    assert len(overview.plan.pages) > 1, "it takes several sheets"
    assert PACKING_NAME in output_names(overview.plan, job, overview.laid)
    text = prepare(job, pipeline)[PACKING_NAME].decode("utf-8-sig")
    rows = text.splitlines()
    assert rows[0] == "for,design,quantity,note,sheets,missing"
    assert rows[1].startswith("Anna,Bee,20,")
    assert len(rows) == 4
    assert PACKING_NAME not in output_names(overview.plan, replace(job, order=()), overview.laid)


ORDERS = st.lists(st.tuples(st.sampled_from("abc"), st.integers(1, 30)), max_size=12)
PAGES = st.lists(st.dictionaries(st.sampled_from("abcd"), st.integers(1, 40), max_size=4), max_size=5)


@given(order=ORDERS, pages=PAGES)
def test_every_sticker_has_one_owner_and_none_is_given_twice(order, pages):
    lines = [OrderLine(design=design, quantity=quantity) for design, quantity in order]
    made = packed(lines, pages)
    for number, page in enumerate(pages, 1):
        for design, laid in page.items():
            given_away = sum(dict(one.sheets).get(number, 0) for one in made if one.line.design == design)
            assert given_away <= laid
    for one in made:
        assert sum(count for _, count in one.sheets) + one.short == one.line.quantity
    for design, left in spare(lines, pages).items():
        laid = sum(page.get(design, 0) for page in pages)
        given_away = sum(sum(dict(one.sheets).values()) for one in made if one.line.design == design)
        assert left == laid - given_away or (left == 0 and given_away == laid)
