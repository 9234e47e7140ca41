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

LOOP = Tool(name="around", shape="loop", word="Loop", hint="draw once round the subject, loosely")
OVAL = Tool(name="around oval", shape="oval", word="Oval", hint="drag an oval round the subject")
ROUNDED = Tool(name="around box", shape="box", word="Box", hint="drag a rounded box round the subject")
BELONGS = Tool(
    name="keep", shape="brush", tone="fine", word="Belongs", hint="brush over a part of the subject that is missing"
)
FOREIGN = Tool(
    name="clear", shape="brush", tone="danger", word="Does not", hint="brush over what does not belong to the subject"
)
LOOPS = (LOOP, OVAL, ROUNDED)
OF_SUBJECT = (
    ToolButton(tool=LOOP, key="L"),
    ToolButton(tool=OVAL, key="O"),
    ToolButton(tool=ROUNDED, key="R"),
    ToolButton(tool=BELONGS, key="K"),
    ToolButton(tool=FOREIGN, key="X"),
)
"""They tell a photograph's subject from what is round it."""

BUTTONS = (
    ToolButton(tool=DAM, key="D"),
    ToolButton(tool=KEEP, key="K"),
    ToolButton(tool=CLEAR, key="X"),
    ToolButton(tool=AREA, key="A"),
)
