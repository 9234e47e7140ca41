"""The languages that open machines take: a new one is one module and one line here."""

from __future__ import annotations

from honest_edge.files.languages.gcode import GCODE
from honest_edge.files.languages.hpgl import HPGL
from honest_edge.files.languages.language import Language

LANGUAGES: dict[str, Language] = {"hpgl": HPGL, "gcode": GCODE}
