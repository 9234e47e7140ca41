"""Cut lines as PDF with processing steps.

After ISO 19593-1, whose keys are taken from memory and not from its text: a layer of each kind says in its metadata
which step it is, strokes overprint in a spot colour of its own. Marks print, so they belong to no step.
"""

from __future__ import annotations

import io
from decimal import Decimal

import pikepdf
from pikepdf import Array, Dictionary, Name

from honest_edge.core.values.machine import Machine
from honest_edge.core.values.specs import Colour, LineKind
from honest_edge.core.values.units import MM_PER_INCH
from honest_edge.files.pdf_path import number, path_operators
from honest_edge.files.sheet_page import SheetPage

_POINTS_PER_MM = 72 / MM_PER_INCH
_STEP: dict[LineKind, str] = {
    "kiss": "PartialCutting",
    "crease": "Creasing",
    "perforate": "Perforating",
    "through": "Cutting",
}
_WIDTH_MM = 0.25


def cut_pdf(page: SheetPage, machine: Machine) -> bytes:
    """Return the cut file of one sheet, of its exact size; the same page gives the same bytes."""
    pdf = pikepdf.new()
    layers, spaces, content = Dictionary(), Dictionary(), []
    height = page.height_mm * _POINTS_PER_MM
    content.append(f"{number(_POINTS_PER_MM)} 0 0 {number(-_POINTS_PER_MM)} 0 {number(height)} cm")
    groups = []
    for kind, rings in page.cuts.items():
        group = pdf.make_indirect(
            Dictionary(
                Type=Name.OCG,
                Name=kind,
                GTS_Metadata=Dictionary(
                    GTS_ProcStepsGroup=Name.Structural,
                    GTS_ProcStepsType=Name(f"/{_STEP[kind]}"),
                ),
            )
        )
        groups.append(group)
        layers[f"/{kind}"] = group
        spaces[f"/{kind}"] = _separation(pdf, kind, machine.lines[kind].colour)
        strokes = "\n".join(f"{path_operators(ring)} S" for ring in rings)
        content.append(f"/OC /{kind} BDC q /Over gs /{kind} CS 1 SCN {number(_WIDTH_MM)} w\n{strokes}\nQ EMC")
    red, green, blue = (level / 255 for level in page.marks_rgb)
    content.append(f"{number(red)} {number(green)} {number(blue)} rg")
    content += [f"{path_operators(ring)} f" for ring in page.marks]
    resources = Dictionary(
        Properties=layers, ColorSpace=spaces, ExtGState=Dictionary(Over=Dictionary(Type=Name.ExtGState, OP=True, OPM=1))
    )
    box = Array([0, 0, Decimal(number(page.width_mm * _POINTS_PER_MM)), Decimal(number(height))])
    pdf.pages.append(
        pikepdf.Page(
            pdf.make_indirect(
                Dictionary(
                    Type=Name.Page,
                    MediaBox=box,
                    TrimBox=box,
                    Resources=resources,
                    Contents=pdf.make_stream("\n".join(content).encode()),
                )
            )
        )
    )
    pdf.Root.OCProperties = Dictionary(OCGs=Array(groups), D=Dictionary(Order=Array(groups), ON=Array(groups)))
    out = io.BytesIO()
    pdf.save(out, deterministic_id=True, compress_streams=True)
    return out.getvalue()


def _separation(pdf: pikepdf.Pdf, kind: str, colour: Colour) -> Array:
    """Return a spot colour (ISO 32000-2 §8.6.6.4) that shows as ``colour``."""
    shown = Array([Decimal(number(level / 255)) for level in colour])
    tint = Dictionary(FunctionType=2, Domain=Array([0, 1]), C0=Array([1, 1, 1]), C1=shown, N=1)
    return Array([Name.Separation, Name(f"/{kind}"), Name.DeviceRGB, pdf.make_indirect(tint)])
