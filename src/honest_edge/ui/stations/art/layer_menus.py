"""The menus of the layers: what can be added, and what can be done with those in hand."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING, Any, Protocol

from PyQt6.QtWidgets import QMenu, QSizePolicy, QToolButton, QWidget

from honest_edge.core.values.layers import FIRST_FONT, PLACEHOLDER_CODES, PLACEHOLDER_WORDS, Code, Lettering, Shape

if TYPE_CHECKING:
    from honest_edge.ui.shared.workspace import Workspace
    from honest_edge.ui.stations.art.arranging import Arranging

_SHAPES = (
    ("Box", Shape(kind="box", width_mm=40, height_mm=25)),
    ("Rounded box", Shape(kind="box", width_mm=40, height_mm=25, radius_mm=4)),
    ("Disc", Shape(kind="oval", width_mm=40, height_mm=40)),
    ("Oval", Shape(kind="oval", width_mm=45, height_mm=30)),
    ("Heart", Shape(kind="heart", width_mm=40, height_mm=38)),
    ("Star", Shape(kind="star", width_mm=40, height_mm=40)),
    ("Polygon", Shape(kind="polygon", width_mm=40, height_mm=40, points=6)),
    ("Tag with eyelet", Shape(kind="tag", width_mm=70, height_mm=35, radius_mm=2)),
    ("Banner", Shape(kind="banner", width_mm=60, height_mm=14)),
)
_CODES = (
    ("QR code", Code(kind="QR", text=PLACEHOLDER_CODES["QR"])),
    ("Barcode Code 128", Code(kind="Code 128", text=PLACEHOLDER_CODES["Code 128"], width_mm=45)),
    ("Barcode EAN-13", Code(kind="EAN-13", text=PLACEHOLDER_CODES["EAN-13"], width_mm=35)),
)
_ALIGN = (
    ("Left sides", "left", "Ctrl+Alt+Left"),
    ("Middles, side by side", "middle", "Ctrl+Alt+M"),
    ("Right sides", "right", "Ctrl+Alt+Right"),
    ("Tops", "top", "Ctrl+Alt+Up"),
    ("Middles, one above another", "centre", "Ctrl+Alt+C"),
    ("Bottoms", "bottom", "Ctrl+Alt+Down"),
)


class Adds(Protocol):
    """What adds layers to the design in hand."""

    def add_layer(self, place: tuple[float, float] | None = None, **content: Any) -> None:
        """Lay something new on top."""

    def add_picture(self) -> None:
        """Ask for a picture and lay it on top."""

    def add_sticker(self, key: str) -> None:
        """Lay another design on top."""


def adding_button(owner: QWidget, adds: Adds, workspace: Workspace) -> tuple[QToolButton, QMenu]:
    """Return the button for all that can be added, and its menu of the job's stickers."""
    adding, menu = _menu_button("Add")
    words = Lettering(text=PLACEHOLDER_WORDS, family=FIRST_FONT[0], style=FIRST_FONT[1])
    _entry(owner, menu, "Words", "Ctrl+Alt+W", partial(adds.add_layer, lettering=words))
    _entry(owner, menu, "Picture…", "", adds.add_picture)
    menu.addSeparator()
    for name, shape in _SHAPES:
        _entry(owner, menu, name, "", partial(adds.add_layer, shape=shape))
    line = Shape(kind="line", width_mm=40, height_mm=1)
    _entry(owner, menu, "Line to cut or fold", "", partial(adds.add_layer, shape=line, role="line", line="crease"))
    menu.addSeparator()
    for name, code in _CODES:
        _entry(owner, menu, name, "", partial(adds.add_layer, code=code))
    menu.addSeparator()
    stickers = QMenu("Sticker of this job", menu)
    menu.addMenu(stickers)
    menu.aboutToShow.connect(partial(_list_stickers, owner, adds, workspace, stickers))
    return adding, stickers


def _list_stickers(owner: QWidget, adds: Adds, workspace: Workspace, menu: QMenu) -> None:
    """Offer every design of the job that may lie on the one in hand as a sticker."""
    design = workspace.design
    menu.clear()
    for other in workspace.job.designs if design is not None else ():
        if design is not None and other.key != design.key and not other.stickers:
            _entry(owner, menu, other.name, "", partial(adds.add_sticker, other.key))
    menu.setEnabled(not menu.isEmpty())


def arranging_button(owner: QWidget, arranging: Arranging, *, duplicate: Callable[[], object]) -> QToolButton:
    """Return the button for all that can be done with the layers in hand."""
    button, menu = _menu_button("Arrange")
    for name, side, key in _ALIGN:
        _entry(owner, menu, f"Align: {name[0].lower()}{name[1:]}", key, partial(arranging.align, side))
    _entry(owner, menu, "Even gaps across", "Ctrl+Alt+E", partial(arranging.distribute, 0))
    _entry(owner, menu, "Even gaps down", "Ctrl+Alt+D", partial(arranging.distribute, 1))
    menu.addSeparator()
    _entry(owner, menu, "Group", "Ctrl+G", partial(arranging.group, True))
    _entry(owner, menu, "Ungroup", "Ctrl+Shift+G", partial(arranging.group, False))
    _entry(owner, menu, "Lock or unlock", "Ctrl+Shift+L", partial(arranging.flag, "is_locked", "lock"))
    _entry(owner, menu, "Hide or show", "Ctrl+Shift+H", partial(arranging.flag, "is_hidden", "hide"))
    menu.addSeparator()
    _entry(owner, menu, "One up in the stack", "", partial(arranging.restack, 1))
    _entry(owner, menu, "One down in the stack", "", partial(arranging.restack, -1))
    _entry(owner, menu, "Duplicate", "", duplicate)
    _entry(owner, menu, "Grown copy below it", "Ctrl+Shift+D", arranging.grow)
    _entry(owner, menu, "Remove", "", arranging.remove)
    menu.addSeparator()
    _entry(owner, menu, "Each letter a layer of its own", "", arranging.in_letters)
    _entry(owner, menu, "A page for each letter, as large as it allows", "", arranging.to_letters)
    _entry(owner, menu, "A page for each letter, all one size", "", partial(arranging.to_letters, one_size=True))
    return button


def _menu_button(name: str) -> tuple[QToolButton, QMenu]:
    button = QToolButton()
    button.setText(f"{name} ▾")
    button.setAccessibleName(name)
    button.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
    button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
    menu = QMenu(button)
    button.setMenu(menu)
    return button, menu


def _entry(owner: QWidget, menu: QMenu, name: str, key: str, act: Callable[[], object]) -> None:
    action = menu.addAction(name)
    if action is not None:
        if key:
            action.setShortcut(key)
            owner.addAction(action)  # a menu that is shut hears no key
        action.triggered.connect(lambda _checked: act())
