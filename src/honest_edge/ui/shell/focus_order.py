"""The order in which Tab walks: that of reading, whenever and in whatever order parts were made.

WCAG 2.2, 2.4.3: the order keeps meaning. Qt's own is that in which widgets came into the window.
"""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtCore import QRect, Qt
from PyQt6.QtWidgets import QAbstractButton, QAbstractScrollArea, QScrollArea, QWidget

_OVERLAP_PX = 3  # rims may lie over each other


def step(root: QWidget, *, forward: bool) -> bool:
    """Move the keys to the next stop after the one that has them, round and round; return whether there is one."""
    here = root.focusWidget()
    stops = stops_of(root, here)
    if not stops:
        return False
    at = next((number for number, stop in enumerate(stops) if stop is here), -1 if forward else 0)
    wanted = stops[(at + (1 if forward else -1)) % len(stops)]
    wanted.setFocus(Qt.FocusReason.TabFocusReason if forward else Qt.FocusReason.BacktabFocusReason)
    _bring_into_sight(wanted)
    return True


def stops_of(root: QWidget, here: QWidget | None = None) -> list[QWidget]:
    """Return what Tab stops at inside a widget, as one reads; ``here``, which has the keys, stands among it anyhow."""
    inside = [stop for part in _as_read(_parts(root), root.isRightToLeft()) for stop in stops_of(part.widget, here)]
    return [root, *inside] if root is here or _is_stop(root) else inside


@dataclass(frozen=True, slots=True)
class _Part:
    """A widget and where it lies in what holds it, as if nothing of that were scrolled."""

    widget: QWidget
    box: QRect


def _parts(holder: QWidget) -> list[_Part]:
    """Return what a widget holds; what is scrolled lies beside what stands over it, as a card's help mark does."""
    if isinstance(holder, QAbstractScrollArea) and not isinstance(holder, QScrollArea):
        return []
    parts = []
    scrolled = holder.widget() if isinstance(holder, QScrollArea) else None
    for child in (*holder.children(), *(() if scrolled is None else scrolled.children())):
        is_shown = isinstance(child, QWidget) and child.isVisible() and not child.isWindow()
        if is_shown and not (isinstance(holder, QScrollArea) and child is holder.viewport()):
            parts.append(_Part(child, child.geometry()))
    return parts


def _as_read(parts: list[_Part], from_the_right: bool) -> list[_Part]:
    """Return parts as one reads them: rows one below another, or columns beside each other, and so on inside each.

    Recursive cuts between boxes: Nagy and Seth, Hierarchical representation of optically scanned documents, 1984.
    """
    if len(parts) < 2:
        return parts
    for rows in (True, False):
        groups = _apart(parts, rows=rows)
        if len(groups) > 1:
            in_order = reversed(groups) if from_the_right and not rows else groups
            return [one for group in in_order for one in _as_read(group, from_the_right)]
    return sorted(parts, key=lambda part: (part.box.top(), part.box.left()))


def _apart(parts: list[_Part], *, rows: bool) -> list[list[_Part]]:
    """Return groups of parts with a straight gap between each and the next."""

    def span(part: _Part) -> tuple[int, int]:
        box = part.box
        return (box.top(), box.bottom()) if rows else (box.left(), box.right())

    groups: list[list[_Part]] = []
    end = 0
    for part in sorted(parts, key=span):
        low, high = span(part)
        if not groups or low > end - _OVERLAP_PX:
            groups.append([])
            end = high
        groups[-1].append(part)
        end = max(end, high)
    return groups


def _is_stop(widget: QWidget) -> bool:
    """Whether Tab stops here; of buttons of which one is taken, at that one: arrows walk among them."""
    if not widget.isEnabled() or widget.focusProxy() is not None:
        return False
    if isinstance(widget, QAbstractButton) and widget.isCheckable():
        taken = _taken(widget)
        if taken is not None:
            return widget is taken
    return bool(widget.focusPolicy() & Qt.FocusPolicy.TabFocus)


def _taken(button: QAbstractButton) -> QAbstractButton | None:
    """Return which button of its exclusive group is taken; None where it has no such group or none is."""
    group, holder = button.group(), button.parentWidget()
    if group is not None:
        return group.checkedButton() if group.exclusive() else None
    if not button.autoExclusive() or holder is None:
        return None
    others = (child for child in holder.children() if isinstance(child, QAbstractButton) and child.autoExclusive())
    return next((other for other in others if other.isChecked()), None)


def _bring_into_sight(widget: QWidget) -> None:
    above = widget.parentWidget()
    while above is not None:
        if isinstance(above, QScrollArea):
            above.ensureWidgetVisible(widget)
        above = above.parentWidget()
