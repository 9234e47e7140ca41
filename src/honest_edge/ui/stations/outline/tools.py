"""The tools of the Outline station."""

from __future__ import annotations

from honest_edge.ui.shared.toolbox import ToolButton
from honest_edge.ui.table.tool import Tool

DAM = Tool(name="dam", shape="line", word="Close gap", hint="draw a line that the background does not cross")
KEEP = Tool(name="keep", shape="brush", tone="fine", word="Keep", hint="brush over what belongs to the art")
CLEAR = Tool(name="clear", shape="brush", tone="danger", word="Clear", hint="brush over what is background")
AREA = Tool(
    name="area",
    shape="box",
    word="Area",
    hint="draw a box: outside of it all is background; a click takes the whole picture again",
)
PICK = Tool(
    name="pick", shape="place", word="Background’s colour", hint="click where the background is: its colour is taken"
)
"""Takes the background's colour from a place."""

BUTTONS = (
    ToolButton(tool=DAM, key="D"),
    ToolButton(tool=KEEP, key="K"),
    ToolButton(tool=CLEAR, key="X"),
    ToolButton(tool=AREA, key="A"),
)
