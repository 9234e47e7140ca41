"""The table that fills a form's words: chosen, looked at row by row, rows left out."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from typing import Any

from PyQt6.QtCore import QSignalBlocker
from PyQt6.QtWidgets import QCheckBox, QFrame, QVBoxLayout, QWidget

from honest_edge.core.values.job import Design
from honest_edge.core.values.tables import MOST_ROWS, Table
from honest_edge.ui.shared.host import Host
from honest_edge.ui.widgets import dialogs
from honest_edge.ui.widgets.fields import (
    Form,
    button,
    counted,
    label,
    row,
)
from honest_edge.ui.widgets.help_mark import HelpMark
from honest_edge.ui.widgets.typed import Count

_MOST_COLUMNS = 12
_NO_TABLE = "Write {name} in the words, and a table with a column “name” fills it."


class TableCard(QFrame):
    """One label a row."""

    def __init__(self, host: Host) -> None:
        super().__init__()
        self.workspace = host.workspace
        self._gesture = -1
        self._shown: tuple[str, ...] = ()
        self.setProperty("card", "plain")
        HelpMark(self, "tables")
        inside = QVBoxLayout(self)
        inside.setContentsMargins(12, 10, 12, 10)
        inside.setSpacing(6)
        inside.addWidget(label("One label a row", "heading"))
        self.words = label("", "soft")
        inside.addWidget(self.words)
        self.choose = button("Choose a table…", self._choose)
        self.choose.setToolTip("A CSV file, whose first line names the columns: name, batch, price")
        self.drop = button("Forget it", lambda: self.workspace.edit_design("forget the table", table=None))
        inside.addLayout(row(self.choose, self.drop))
        self._columns = QVBoxLayout()
        self._columns.setSpacing(2)
        inside.addLayout(self._columns)
        inside.addWidget(self._build_rows())

    def _show_columns(self, columns: tuple[str, ...]) -> None:
        """Show each column as a button that writes it on the label."""
        if columns == self._shown:
            return
        self._shown = columns
        while (item := self._columns.takeAt(0)) is not None:
            if (widget := item.widget()) is not None:
                widget.deleteLater()
        for column in columns[:_MOST_COLUMNS]:
            column_button = button(f"Write {{{column}}}", partial(self._write, column), link=True)
            column_button.setToolTip("Puts this column below the last words; each label shows its own row of it")
            self._columns.addWidget(column_button)

    def _write(self, column: str) -> None:
        from honest_edge.app.results.table_rows import with_column

        design = self.workspace.design
        if design is not None:
            self.workspace.edit_design(f"write {column}", layers=with_column(design, column))

    def _build_rows(self) -> QWidget:
        self.rows = Form(narrow=True)
        self.row = Count("Row looked at", 0, MOST_ROWS)
        self.row.setSpecialValueText("longest")
        self.row.committed.connect(self._look_at)
        self.rows.add("Look at row", self.row, "It stands on the table; nothing else changes")
        self.row_words = label("", "soft")
        self.rows.add_wide(self.row_words)
        self.left_out = QCheckBox("Leave this row out")
        self.left_out.clicked.connect(self._leave_out)
        self.rows.add_wide(self.left_out)
        return self.rows

    def show_design(self, design: Design) -> None:
        """Show a design's table."""
        table = design.table
        self.drop.setVisible(table is not None)
        self.rows.setVisible(table is not None)
        self._show_columns(() if table is None else table.columns)
        if table is None:
            self.words.setText(_NO_TABLE)
            return
        columns = ", ".join(f"{{{column}}}" for column in table.columns)
        out = f", {len(table.left_out)} left out" if table.left_out else ""
        labels = counted(design.label_count, "label")
        self.words.setText(f"{counted(len(table.rows), 'row')} of {table.file_name}{out}: {columns}. {labels} in all.")
        self._show_row(table)

    def _show_row(self, table: Table) -> None:
        self.row.setMaximum(len(table.rows))
        self.row.show_value(0 if table.shown is None else table.shown + 1)
        self.left_out.setEnabled(table.shown is not None)
        with QSignalBlocker(self.left_out):
            self.left_out.setChecked(table.shown in table.left_out)
        if table.shown is None:
            self.row_words.setText("The row with the longest words is shown.")
            return
        self.row_words.setText(", ".join(text for text in table.rows[table.shown] if text)[:120])

    def _look_at(self, number: int) -> None:
        self._change("look at a row", shown=number - 1 if number else None, merge=self._gesture)

    def _leave_out(self, on: bool) -> None:
        design = self.workspace.design
        if design is None or design.table is None or design.table.shown is None:
            return
        others = set(design.table.left_out) - {design.table.shown}
        wanted = others | ({design.table.shown} if on else set())
        self._change("leave a row out" if on else "take a row in", left_out=tuple(sorted(wanted)))

    def _change(self, words: str, *, merge: int = -1, **changes: Any) -> None:
        design = self.workspace.design
        if design is None or design.table is None:
            return
        if self._gesture < 0:
            self._gesture = self.workspace.new_gesture()
        present = design.table
        table = self.workspace.build(lambda: replace(present, **changes))
        if table is not None:
            self.workspace.edit_design(words, table=table, merge=merge)
        else:
            self.show_design(design)

    def _choose(self) -> None:
        from honest_edge.files.read_input import read_input
        from honest_edge.files.read_table import MOST_TABLE_BYTES, read_table

        path = dialogs.ask_table(self, self.workspace.place.art)
        if path is None:
            return
        table = self.workspace.build(lambda: read_table(read_input(path, MOST_TABLE_BYTES), path.name))
        if table is not None:
            self._gesture = self.workspace.new_gesture()
            self.workspace.edit_design("table", table=table)
