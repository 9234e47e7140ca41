"""The handbook from wherever one is, everything found by its name, and what a greyed control waits for."""

from collections import Counter

import pytest
from PyQt6.QtCore import Qt, QUrl
from PyQt6.QtGui import QAction, QTextDocument
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QAbstractSlider,
    QAbstractSpinBox,
    QComboBox,
    QFrame,
    QLabel,
    QLineEdit,
    QScrollBar,
    QSlider,
    QWidget,
)

from hands import click, turn_wheel
from honest_edge.app.handbook.pages_of import ORDER, TOPICS, page
from honest_edge.ui.shell.finder_dialog import Findable, ranked
from honest_edge.ui.shell.handbook_window import drawn
from honest_edge.ui.widgets.help_mark import HelpMark, topic_of
from honest_edge.ui.widgets.tokens import THEMES

SAYING = ("MessageBar", "RecoveryOffer", "GuideBar", "PracticeBanner", "FindingList")
"""Lines above the work that say something: no cards."""


def places(window):
    for entry in (*window.stations.entries, *window.workshop.entries):
        yield entry.key
        for part in getattr(entry, "parts", ()):
            yield f"{entry.key}:{part}"


@pytest.fixture
def toured(with_some_of_the_demo, settle):
    """A window in which every place was visited, with what is seen there."""
    window = with_some_of_the_demo("Bee", "Herb sheet")

    def tour(look):
        for design in window.document.job.designs:
            window.take(design.key)
            for place in places(window):
                window.go_to(place)
                settle(window)
                look(place)

    return window, tour


def test_f1_opens_the_page_of_what_is_in_hand(with_disc, settle):
    window = with_disc
    for place, topic in (("art", "art"), ("edge", "edge"), ("sheet", "sheet"), ("proof", "proof"), ("book", "book")):
        window.go_to(place)
        settle(window)
        window.setFocus()
        window.helper.show_here()
        assert window.helper.handbook.pages.topic == topic
    window.go_to("edge")
    settle(window)
    window.here.panel.error.findChildren(QLineEdit)[0].setFocus()
    window.helper.show_here()
    assert window.helper.handbook.pages.topic == "measuring"
    window.start.show()
    window.helper.show_here()
    assert window.helper.handbook.pages.topic == "start"
    window.helper.handbook.close()


def test_the_mark_of_a_card_opens_its_page(with_disc, settle):
    window = with_disc
    window.go_to("sheet")
    settle(window)
    mark = next(mark for mark in window.here.panel.marks.findChildren(HelpMark))
    click(mark)
    assert window.helper.handbook.pages.topic == "marks"
    assert window.helper.handbook.isVisible()
    window.helper.handbook.close()


def test_the_marks_of_what_is_drawn_by_hand_tell_of_that_and_the_line_names_the_tool(with_disc, settle):
    window = with_disc
    for place in ("outline", "edge"):
        window.go_to(place)
        settle(window)
        toolbox = window.here.panel.toolbox
        assert topic_of(toolbox) == "by-hand"
        before = window.table.hint
        for tool, made in toolbox.buttons.items():
            click(made)
            word, _, hint = window.table.hint.partition(": ")
            assert word == made.text()
            assert hint.endswith("Esc: lay it down")
            assert hint[1:20] in made.toolTip(), tool
            assert f"**{word}**" in page("by-hand").text
        QTest.keyClick(window.table, Qt.Key.Key_Escape)
        assert window.table.hint == before
        QTest.keyClick(window.table, Qt.Key.Key_M)
        assert window.table.hint.startswith("Caliper:")
        QTest.keyClick(window.table, Qt.Key.Key_M)
    assert "**Extra**" in page("sheet").text
    assert "**carrier**" in page("run").text


def test_the_handbook_is_searched_followed_and_walked_back(with_disc):
    window = with_disc
    window.helper.show("edge")
    book = window.helper.handbook
    book.pages.anchorClicked.emit(QUrl("page:bleed"))
    assert book.pages.topic == "bleed"
    assert "1.27 mm" in book.pages.toPlainText()
    click(book.back)
    assert book.pages.topic == "edge"
    QTest.keyClicks(book.search, "dull blade")
    QTest.keyClick(book.search, Qt.Key.Key_Return)
    assert book.pages.topic in ("blades", "wrong")
    book.search.setText("zebra crossing")
    assert "No page has" in book.list.topLevelItem(0).text(0)
    book.search.clear()
    assert book.list.topLevelItemCount() == len(ORDER)
    window.choices.swap_unit()
    window.helper.show("bleed")
    assert "0.05 in" in book.pages.toPlainText()
    book.close()


@pytest.mark.parametrize("tokens", THEMES.values(), ids=THEMES)
def test_every_drawing_is_painted_in_the_colours_of_the_theme(qapp, tokens):
    for topic in TOPICS:
        for name in {part.split(")")[0] for part in page(topic).text.split("drawing:")[1:]}:
            image = drawn(name, tokens, 2.0)
            seen = {image.pixel(x, y) for x in range(0, image.width(), 3) for y in range(0, image.height(), 3)}
            assert len(seen) > 3, name


def test_a_page_shows_its_drawing(with_disc):
    window = with_disc
    window.helper.show("marks")
    pages = window.helper.handbook.pages
    found = pages.document().resource(QTextDocument.ResourceType.ImageResource.value, QUrl("drawing:marks"))
    assert found is not None
    assert found.width() > 100
    window.helper.handbook.close()


# -- finding ------------------------------------------------------------------------------------------


def things(*names):
    return [Findable(name=name, kind="action", act=lambda: None) for name in names]


def test_what_begins_a_name_comes_first():
    found = ranked(things("Show all of the table", "Table", "Tables: one label a row", "Bleed"), "table")
    assert [one.name for one in found] == ["Table", "Tables: one label a row", "Show all of the table"]
    assert ranked(things("A", "B"), "zzz") == []
    with_key = [*things("A"), Findable(name="B", kind="action", key="Ctrl+B", act=lambda: None)]
    assert [one.name for one in ranked(with_key, "")] == ["B", "A"]


def test_everything_is_found_by_its_name(with_disc, settle):
    window = with_disc
    QTest.keyClick(window, Qt.Key.Key_Slash, Qt.KeyboardModifier.ControlModifier)
    finder = window.helper.finder
    listed = {
        finder.list.topLevelItem(n).text(0): finder.list.topLevelItem(n) for n in range(finder.list.topLevelItemCount())
    }
    assert {action.text() for action in window.actions() if action.text() and action.menu() is None} <= set(listed)
    assert {
        "Disc",
        "Edge",
        "Book: stock",
        "Bleed past the cut",
        "Forecast: what it means, and what it does not",
    } <= set(listed)
    assert listed["Write files…"].text(2) == "Ctrl+E"
    QTest.keyClicks(finder.field, "bleed past")
    assert finder.list.topLevelItem(0).text(0) == "Bleed past the cut"
    QTest.keyClick(finder.field, Qt.Key.Key_Return)
    settle(window)
    assert window.station == "edge"
    assert window.focusWidget() is window.here.panel.bleed
    window.helper.find()
    window.helper.finder.field.setText("corners")
    QTest.keyClick(window.helper.finder.field, Qt.Key.Key_Down)
    window.helper.finder.reject()


def test_a_setting_that_is_folded_away_is_unfolded(with_disc, settle):
    window = with_disc
    window.helper.find()
    window.helper.finder.field.setText("fatten thin")
    QTest.keyClick(window.helper.finder.field, Qt.Key.Key_Return)
    settle(window)
    assert window.here.panel.fatten.isVisible()
    assert window.focusWidget() is window.here.panel.fatten


def keys_of(window):
    """How often each key is heard now."""
    heard = Counter(
        key.toString()
        for action in window.findChildren(QAction)
        if action.isEnabled() and any(isinstance(o, QWidget) and o.isVisible() for o in action.associatedObjects())
        for key in action.shortcuts()
    )
    heard.update(
        made.shortcut().toString()
        for made in window.findChildren(QAbstractButton)
        if made.isVisible() and made.isEnabled() and not made.shortcut().isEmpty()
    )
    return heard


def greyed_silently(window):
    kinds = (QAbstractButton, QLineEdit, QComboBox, QAbstractSpinBox)
    for one in window.findChildren(QWidget):
        if isinstance(one, kinds) and one.isVisible() and not one.isEnabled() and not one.toolTip():
            yield getattr(one, "text", lambda: "")() or one.accessibleName()


def unnamed(window):
    """What a screen reader would not know how to call."""
    kinds = (QAbstractButton, QLineEdit, QComboBox, QAbstractSpinBox, QSlider, QAbstractItemView)
    labelled = {label.buddy() for label in window.findChildren(QLabel)}
    for one in window.findChildren(QWidget):
        if isinstance(one, kinds) and one.isVisible() and one.focusPolicy() & Qt.FocusPolicy.TabFocus:
            if isinstance(one.parentWidget(), QAbstractSpinBox):
                continue  # the box is what is named
            words = one.text() if isinstance(one, QAbstractButton) else ""
            if not (one.accessibleName() or words or one in labelled):
                yield type(one).__name__, type(one.parentWidget()).__name__


def turned_by_the_wheel(window):
    """What a wheel over it changes: lists, sliders and numbers that were not clicked into are only scrolled past."""
    for kind in (QComboBox, QAbstractSlider, QAbstractSpinBox):
        for control in window.findChildren(kind):
            if not control.isVisible() or isinstance(control, QScrollBar) or control.hasFocus():
                continue
            value = "currentIndex" if kind is QComboBox else "value"
            before, others = getattr(control, value)(), window.document.job
            for notches in (-1, 1, 1, -1):
                turn_wheel(control, notches)
                if getattr(control, value)() != before or window.document.job is not others:
                    yield control.accessibleName()


def test_everywhere_cards_have_pages_keys_one_meaning_greyed_controls_a_reason_and_the_wheel_scrolls(toured):
    window, tour = toured
    doubled, silent, nameless, turned = set(), set(), set(), set()

    def look(place):
        turned.update((place, name) for name in turned_by_the_wheel(window))
        nameless.update((place, *name) for name in unnamed(window))
        doubled.update((place, key) for key, count in keys_of(window).items() if count > 1)
        silent.update((place, name) for name in greyed_silently(window))

    tour(look)
    window.start.show()
    assert sorted(turned) == []
    assert sorted(doubled) == []
    assert sorted(silent) == []
    assert sorted(nameless) == []
    cards = [one for one in window.findChildren(QFrame) if one.property("card") in ("plain", "sand", "look")]
    cards = [one for one in cards if type(one).__name__ not in SAYING]
    assert len(cards) > 25
    assert [type(one).__name__ for one in cards if topic_of(one) not in TOPICS] == []
    assert {mark.text() for mark in window.findChildren(HelpMark)} == {"?"}
