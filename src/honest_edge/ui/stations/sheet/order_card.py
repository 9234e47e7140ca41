"""The order: lines of design, quantity and for whom; and which sheet holds whose stickers."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QLineEdit, QVBoxLayout, QWidget

from honest_edge.core.values.orders import OrderLine
from honest_edge.core.values.specs import MOST_COPIES
from honest_edge.ui.shared.host import Host
from honest_edge.ui.stations.sheet.card import Card
from honest_edge.ui.widgets.fields import Choice, Form, button, greyed, label, row
from honest_edge.ui.widgets.typed import Count

if TYPE_CHECKING:
    from honest_edge.core.workshop.cost import PieceCost

_MOST_SHOWN = 12


class OrderCard(Card):
    """Says who gets what from which sheet, and takes lines."""

    def __init__(self, host: Host) -> None:
        super().__init__(host, "An order", topic="sheet")
        self._names: tuple[tuple[str, str], ...] = ()
        self._shown: list[QWidget] = []
        self._price: float | None = None
        self._is_cost = False
        self.hint = label("Drop a table with columns design, quantity and for, or type lines here.", "soft")
        self.inside.addWidget(self.hint)
        self._lines = QVBoxLayout()
        self._lines.setSpacing(4)
        self.inside.addLayout(self._lines)
        self.price = label("", "soft")
        self.inside.addWidget(self.price)
        form = Form(narrow=True)
        self.design = Choice("Ordered design", ())
        self.quantity = Count("Ordered quantity", 1, MOST_COPIES)
        self.whom = QLineEdit()
        self.whom.setAccessibleName("Ordered for")
        self.whom.returnPressed.connect(self._add)
        form.add("Design", self.design)
        form.add("Quantity", self.quantity)
        form.add("For", self.whom)
        self.inside.addWidget(form)
        self.add_line = button("Add this line", self._add)
        self.inside.addWidget(self.add_line)

    def refresh(self) -> None:
        """Show the order, and where its stickers lie as far as that is known."""
        workspace = self.workspace
        job = workspace.job
        names = tuple((one.key, one.name) for one in job.designs if not one.stickers)
        if names != self._names:
            self._names = names
            present = self.design.currentData()
            self.design.clear()
            for key, name in names:
                self.design.addItem(name, key)
            self.design.show_value(present if present in dict(names) else (names[0][0] if names else ""))
        greyed(self.add_line, "" if names else "There is no art yet")
        self._show_lines()

    def show_cost(self, cost: PieceCost | None) -> None:
        """Show what the order comes to, by what a piece costs with the margin of the Book."""
        self._price = None if cost is None else cost.price if cost.price is not None else cost.amount
        self._is_cost = cost is not None and cost.price is None
        self._show_lines()

    def _prices(self) -> list[float]:
        """Return the price of each line; none where it is not known."""
        workspace = self.workspace
        if self._price is None or not workspace.job.order or not workspace.is_known or workspace.overview.plan is None:
            return []
        from honest_edge.app.output.packing_list import order_prices

        return order_prices(workspace.job, workspace.overview.plan, workspace.overview.laid, self._price)

    def _show_lines(self) -> None:
        for old in self._shown:
            self._lines.removeWidget(old)
            old.hide()
            old.deleteLater()
        self._shown = []
        job, overview = self.workspace.job, self.workspace.overview
        sheets = {}
        if job.order and overview.plan is not None and self.workspace.is_known:
            from honest_edge.app.output.packing_list import packed_order, sheets_words

            for number, one in enumerate(packed_order(job, overview.plan, overview.laid)):
                short = f", {one.short} missing" if one.short else ""
                sheets[number] = f"sheet {sheets_words(one)}{short}" if one.sheets else f"{one.short} missing"
        names, prices = dict(self._names), self._prices()
        what = "They cost" if self._is_cost else "With your margin"
        self.price.setText(f"{what} {sum(prices):.2f} in all, shared by area." if prices else "")
        self.price.setVisible(bool(prices))
        for number, line in enumerate(job.order[:_MOST_SHOWN]):
            words = f"{line.quantity} × {names.get(line.design, '')}"
            words += f" for {line.whom}" if line.whom else ""
            where = f": {sheets[number]}" if number in sheets else ""
            said = label(f"{words}{where}; {prices[number]:.2f}" if prices else f"{words}{where}")
            drop = button("×", partial(self._drop, number))
            drop.setAccessibleName(f"Take the line out: {words}")
            drop.setProperty("tool", True)
            holder = QWidget()
            line_of = row(said, drop)
            line_of.setContentsMargins(0, 0, 0, 0)
            line_of.setStretch(0, 1)
            holder.setLayout(line_of)
            self._lines.addWidget(holder)
            self._shown.append(holder)
        if len(job.order) > _MOST_SHOWN:
            more = label(f"and {len(job.order) - _MOST_SHOWN} more; all of them are in the packing list", "soft")
            self._lines.addWidget(more)
            self._shown.append(more)

    def _add(self) -> None:
        key = self.design.currentData()
        if not key:
            return
        self.whom.setModified(False)
        line = self.workspace.build(
            lambda: OrderLine(design=key, quantity=self.quantity.value(), whom=self.whom.text().strip())
        )
        if line is not None:
            self._edit("add a line to the order", (*self.workspace.job.order, line))
            self.whom.clear()

    def _drop(self, number: int) -> None:
        order = self.workspace.job.order
        self._edit("take a line out of the order", order[:number] + order[number + 1 :])

    def _edit(self, words: str, lines: tuple[OrderLine, ...]) -> None:
        from honest_edge.app.edits.orders import with_order

        job = self.workspace.build(lambda: with_order(self.workspace.job, lines))
        if job is not None:
            self.workspace.document.edit(job, words)
