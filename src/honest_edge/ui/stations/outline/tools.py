"""The tools of the Outline station."""

from __future__ import annotations

from honest_edge.ui.shared.toolbox import ToolButton
from honest_edge.ui.table.tool import Tool

DAM = Tool(name="dam", shape="line")
KEEP = Tool(name="keep", shape="brush", tone="fine")
CLEAR = Tool(name="clear", shape="brush", tone="danger")
AREA = Tool(name="area", shape="box")
PICK = Tool(name="pick", shape="place")
"""Takes the background's colour from a place."""

BUTTONS = (
    ToolButton(tool=DAM, word="Close gap", key="D", tip="Draw a line that the background does not cross"),
    ToolButton(tool=KEEP, word="Keep", key="K", tip="Brush over what belongs to the art"),
    ToolButton(tool=CLEAR, word="Clear", key="X", tip="Brush over what is background"),
    ToolButton(
        tool=AREA,
        word="Area",
        key="A",
        tip="Draw a box: outside of it all is background; a click takes the whole picture again",
    ),
)
