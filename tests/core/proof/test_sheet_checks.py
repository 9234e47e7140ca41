"""What of stock, printer, machine and marks does not go together."""

import pytest

from honest_edge.core.proof.mark_checks import mark_findings
from honest_edge.core.proof.sheet_checks import sheet_findings
from honest_edge.core.values.machine import Machine
from honest_edge.core.values.marks import MarkSpec
from honest_edge.core.values.printer import Printer
from honest_edge.core.values.sheet import SheetSpec
from honest_edge.core.values.stock import Stock


@pytest.mark.parametrize(
    ("sheet", "words"),
    [
        (SheetSpec(stock=Stock(rgb=(40, 40, 40))), "stand out from the stock by only 1.4 to 1"),
        (SheetSpec(stock=Stock(is_clear=True)), "On clear film readers see what lies below"),
        (SheetSpec(stock=Stock(gloss="glossy")), "The stock is glossy"),
        (SheetSpec(machine=Machine(width_mm=150)), "does not reach the mark top left"),
    ],
)
def test_what_blinds_a_reader_is_said(sheet, words):
    assert any(words in found.message for found in mark_findings(sheet))


def test_black_marks_on_matt_white_need_no_word():
    assert not list(mark_findings(SheetSpec()))
    assert not list(sheet_findings(SheetSpec(), {"kiss", "through"}))


def test_marks_that_the_machines_program_prints_are_not_judged():
    own = Machine(width_mm=150, marks=MarkSpec(rgb=(250, 250, 250)), prints_own_marks=True)
    assert not list(mark_findings(SheetSpec(machine=own)))


@pytest.mark.parametrize(
    ("sheet", "words"),
    [
        (SheetSpec(stock=Stock(name="Card", has_liner=False)), "“Card” has no liner, so a kiss cut goes through"),
        (SheetSpec(stock=Stock(name="Foil", is_printable=False)), "Ink does not hold on “Foil”"),
        (SheetSpec(paper="a3", printer=Printer(name="Small")), "Small takes no A3"),
        # 0.2 % of the 191.9 mm between the marks on Letter are 0.38 mm
        (SheetSpec(printer=Printer(name="Wide", scale_x_percent=0.2)), "Wide prints 0.2 % too wide"),
        (SheetSpec(printer=Printer(name="Low", scale_y_percent=-0.5)), "Low prints 0.5 % too low"),
    ],
)
def test_what_does_not_go_together_is_said_with_the_way_out(sheet, words):
    (said,) = sheet_findings(sheet, {"kiss"})
    assert words in said.message
    assert said.remedy
    assert (said.station, said.severity) == ("sheet", "look")
    assert said.advice.startswith(said.message)
    assert said.advice.endswith(f": {said.remedy}.")


def test_what_is_harmless_is_not_said():
    assert not list(sheet_findings(SheetSpec(stock=Stock(has_liner=False)), {"through"}))
    assert not list(sheet_findings(SheetSpec(printer=Printer(scale_x_percent=0.1, scale_y_percent=-0.1)), {"kiss"}))


def test_each_fix_of_the_sheet_mends_what_it_is_offered_for():
    (pale,) = mark_findings(SheetSpec(machine=Machine(marks=MarkSpec(rgb=(200, 200, 200)))))
    assert pale.measured.value < pale.needed.value == 3.0
    assert pale.fix.words == "Print the marks black"
    assert not list(mark_findings(pale.fix.sheet))
    (dark,) = mark_findings(SheetSpec(stock=Stock(rgb=(20, 20, 20))))
    assert dark.fix is None  # black on black would mend nothing


def test_a_mark_out_of_reach_is_shown_where_it_is():
    (found,) = mark_findings(SheetSpec(machine=Machine(width_mm=150)))
    assert {place.frame for place in found.places} == {"sheet"}
    assert all(place.bounds_mm[0] < 30 for place in found.places)
