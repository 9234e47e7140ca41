"""The menus of the layers: what can be added, and what can be done with those in hand."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QMenu, QSizePolicy, QToolButton, QWidget

from honest_edge.core.values.layers import FIRST_FONT, Code, Lettering, Shape

if TYPE_CHECKING:
    from honest_edge.ui.stations.layers import LayersPanel

_SHAPES = (
    ("Box", Shape(kind="box", width_mm=40, height_mm=25)),
    ("Rounded box", Shape(kind="box", width_mm=40, height_mm=25, radius_mm=4)),
    ("Disc", Shape(kind="oval", width_mm=40, height_mm=40)),
    ("Oval", Shape(kind="oval", width_mm=45, height_mm=30)),
    ("Star", Shape(kind="star", width_mm=40, height_mm=40)),
    ("Polygon", Shape(kind="polygon", width_mm=40, height_mm=40, points=6)),
    ("Tag with eyelet", Shape(kind="tag", width_mm=70, height_mm=35, radius_mm=2)),
    ("Banner", Shape(kind="banner", width_mm=60, height_mm=14)),
)
_CODES = (
    ("QR code", Code(kind="QR", text="https://example.org")),
    ("Barcode Code 128", Code(kind="Code 128", text="QW-001", width_mm=45)),
    ("Barcode EAN-13", Code(kind="EAN-13", text="400638133393", width_mm=35)),
)
_ALIGN = (
    ("Left sides", "left", "Ctrl+Alt+Left"),
    ("Middles, side by side", "middle", "Ctrl+Alt+M"),
    ("Right sides", "right", "Ctrl+Alt+Right"),
    ("Tops", "top", "Ctrl+Alt+Up"),
    ("Middles, one above another", "centre", "Ctrl+Alt+C"),
    ("Bottoms", "bottom", "Ctrl+Alt+Down"),
)


def adding_button(panel: LayersPanel) -> tuple[QToolButton, QMenu]:
    """Return the button for all that can be added, and its menu of the job's stickers."""
    made, menu = _menu_button("Add")
    words = Lettering(text="Words", family=FIRST_FONT[0], style=FIRST_FONT[1])
    _entry(panel, menu, "Words", "Ctrl+L", partial(panel.add_layer, lettering=words))
    _entry(panel, menu, "Picture…", "", panel.add_picture)
    menu.addSeparator()
    for name, shape in _SHAPES:
        _entry(panel, menu, name, "", partial(panel.add_layer, shape=shape))
    line = Shape(kind="line", width_mm=40, height_mm=1)
    _entry(panel, menu, "Line to cut or fold", "", partial(panel.add_layer, shape=line, role="line", line="crease"))
    menu.addSeparator()
    for name, code in _CODES:
        _entry(panel, menu, name, "", partial(panel.add_layer, code=code))
    menu.addSeparator()
    stickers = QMenu("Sticker of this job", menu)
    menu.addMenu(stickers)
    menu.aboutToShow.connect(partial(_list_stickers, panel, stickers))
    return made, stickers


def _list_stickers(panel: LayersPanel, menu: QMenu) -> None:
    """Offer every design of the job that may lie on the one in hand as a sticker."""
    design = panel.desk.design
    menu.clear()
    for other in panel.desk.job.designs if design is not None else ():
        if design is not None and other.key != design.key and not other.stickers:
            _entry(panel, menu, other.name, "", partial(panel.add_sticker, other.key))
    menu.setEnabled(not menu.isEmpty())


def arranging_button(panel: LayersPanel) -> QToolButton:
    """Return the button for all that can be done with the layers in hand."""
    made, menu = _menu_button("Arrange")
    for name, side, key in _ALIGN:
        _entry(panel, menu, f"Align: {name[0].lower()}{name[1:]}", key, partial(panel.align, side))
    _entry(panel, menu, "Even gaps across", "Ctrl+Alt+E", partial(panel.distribute, 0))
    _entry(panel, menu, "Even gaps down", "Ctrl+Alt+D", partial(panel.distribute, 1))
    menu.addSeparator()
    _entry(panel, menu, "Group", "Ctrl+G", partial(panel.group, True))
    _entry(panel, menu, "Ungroup", "Ctrl+Shift+G", partial(panel.group, False))
    _entry(panel, menu, "Lock or unlock", "Ctrl+Shift+L", partial(panel.flag, "is_locked", "lock"))
    _entry(panel, menu, "Hide or show", "Ctrl+Shift+H", partial(panel.flag, "is_hidden", "hide"))
    menu.addSeparator()
    _entry(panel, menu, "One up in the stack", "", panel.up.click)
    _entry(panel, menu, "One down in the stack", "", panel.down.click)
    _entry(panel, menu, "Duplicate", "", panel.copy.click)
    _entry(panel, menu, "Remove", "", panel.remove_taken)
    menu.addSeparator()
    _entry(panel, menu, "One design for each letter, as large as the sheet allows", "", panel.to_letters)
    return made


def _menu_button(name: str) -> tuple[QToolButton, QMenu]:
    made = QToolButton()
    made.setText(f"{name} ▾")
    made.setAccessibleName(name)
    made.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
    made.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
    menu = QMenu(made)
    made.setMenu(menu)
    return made, menu


def _entry(panel: QWidget, menu: QMenu, name: str, key: str, act: Callable[[], object]) -> None:
    made = menu.addAction(name)
    if made is not None:
        if key:
            made.setShortcut(key)
            panel.addAction(made)  # a menu that is shut hears no key
        made.triggered.connect(lambda _checked: act())
