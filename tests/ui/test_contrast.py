"""Contrast of what is really painted, in each theme: text at least 4.5 to 1, the rims of fields 3 to 1.

WCAG 2.2, success criteria 1.4.3 and 1.4.11; relative luminance as it is defined there.
"""

import numpy as np
import pytest
from PyQt6.QtCore import QPoint
from PyQt6.QtGui import QColor, QImage, QRegion
from PyQt6.QtWidgets import QAbstractButton, QApplication, QCheckBox, QComboBox, QLabel, QLineEdit, QWidget

from honest_edge.ui.widgets.help_mark import HelpMark
from honest_edge.ui.widgets.tokens import THEMES

TEXT, RIM = {False: 4.5, True: 7.0}, 3.0
"""Of text without and with high contrast: WCAG 2.2, 1.4.3 and 1.4.6."""
SCALE = 2
"""Painted so many times larger, letters have pixels of their own colour and not only of their edges."""


def luminance(rgb):
    share = np.asarray(rgb, float) / 255
    linear = np.where(share <= 0.04045, share / 12.92, ((share + 0.055) / 1.055) ** 2.4)
    return linear @ np.array([0.2126, 0.7152, 0.0722])


def ratio(one, other):
    high, low = np.maximum(one, other), np.minimum(one, other)
    return (high + 0.05) / (low + 0.05)


def painted(widget, ground):
    """What a widget looks like over the ground that it stands on, (h, w, 3)."""
    image = QImage(widget.size() * SCALE, QImage.Format.Format_RGB32)
    image.setDevicePixelRatio(SCALE)
    image.fill(QColor(ground))
    flags = QWidget.RenderFlag.DrawChildren
    if widget.autoFillBackground():
        flags |= QWidget.RenderFlag.DrawWindowBackground
    widget.render(image, QPoint(), QRegion(), flags)
    data = image.constBits().asarray(image.sizeInBytes())
    return np.frombuffer(data, np.uint8).reshape(image.height(), image.width(), 4)[..., 2::-1].copy()


def ground_of(widget, whole):
    """The commonest colour of the window where a widget stands."""
    at = widget.mapTo(widget.window(), QPoint(0, 0))
    box = whole[max(at.y(), 0) : at.y() + widget.height(), max(at.x(), 0) : at.x() + widget.width()]
    red, green, blue = box.reshape(-1, 3).astype(np.uint32).T
    colours, counts = np.unique(red << 16 | green << 8 | blue, return_counts=True)
    commonest = int(colours[counts.argmax()])
    return np.array([commonest >> 16, commonest >> 8 & 255, commonest & 255])


def best_against(ground, pixels):
    """The highest contrast of any pixel to the ground; each colour is looked at once."""
    packed = pixels.reshape(-1, 3).astype(np.uint32) @ np.array([1 << 16, 1 << 8, 1], np.uint32)
    colours = np.unique(packed)
    rgb = np.stack([colours >> 16, colours >> 8 & 255, colours & 255], axis=1)
    return ratio(luminance(rgb), luminance(ground)).max()


def test_the_formula_is_that_of_wcag():
    assert ratio(luminance((0, 0, 0)), luminance((255, 255, 255))) == pytest.approx(21.0)
    assert ratio(luminance((118, 118, 118)), luminance((255, 255, 255))) == pytest.approx(4.54, abs=0.01)


def window_pixels(window):
    image = window.grab().toImage().convertToFormat(QImage.Format.Format_RGB32)
    data = image.constBits().asarray(image.sizeInBytes())
    return np.frombuffer(data, np.uint8).reshape(image.height(), image.width(), 4)[..., 2::-1].copy()


def pale(window, place, seen, least):
    """What cannot be read; what was looked at before in the same words is not looked at again."""
    whole, found = window_pixels(window), []
    for widget in window.findChildren(QWidget):
        if not (widget.isVisible() and widget.isEnabled()) or widget.width() < 4 or widget.visibleRegion().isEmpty():
            continue
        looks = (type(widget), getattr(widget, "text", lambda: "")(), widget.property("tone"), widget.size().width())
        if looks in seen:
            continue
        seen.add(looks)
        if isinstance(widget, QLabel | QAbstractButton) and getattr(widget, "text", lambda: "")().strip():
            if isinstance(widget, QAbstractButton) and "background:" in widget.styleSheet():
                continue  # a button that shows a colour of the art
            ground = ground_of(widget, whole)
            pixels = painted(widget, QColor(*(int(v) for v in ground)))
            best = best_against(ground, pixels)
            if best < least:
                found.append((place, type(widget).__name__, widget.text()[:40], round(float(best), 2)))
        elif isinstance(widget, QLineEdit | QComboBox | QCheckBox):
            ground = ground_of(widget, whole)
            pixels = painted(widget, QColor(*(int(v) for v in ground)))
            rim = pixels[pixels.shape[0] // 2, : 14 * SCALE]
            best = ratio(luminance(rim), luminance(ground)).max()
            if best < RIM:
                found.append((place, type(widget).__name__, widget.accessibleName()[:40], round(float(best), 2)))
    return found


@pytest.mark.parametrize("theme", THEMES)
def test_text_and_fields_can_be_read_everywhere(with_some_of_the_demo, settle, theme):
    window = with_some_of_the_demo("Price tag")
    window.set_prefs(type(window.prefs)(theme=theme, turned_cards=window.prefs.turned_cards))
    settle(window)
    found, seen, least = [], set(), TEXT[window.tokens.is_high]
    for design in window.document.job.designs:
        window.take(design.key)
        for entry in (*window.stations.entries, *window.workshop.entries):
            for place in (entry.key, *(f"{entry.key}:{part}" for part in getattr(entry, "parts", ()))):
                window.go_to(place)
                settle(window)
                found += pale(window, place, seen, least)
    window.start.show()
    settle(window)
    found += pale(window, "start", seen, least)
    window.workshop["practice"].begin("dust")
    settle(window)
    found += pale(window, "practice bench", seen, least)
    window.helper.show("edge")
    QApplication.processEvents()
    found += pale(window.helper.handbook, "handbook", seen, least)
    window.helper.handbook.close()
    assert sorted(set(found)) == []
    assert window.findChildren(HelpMark)
