"""A drawing as DXF, for drawing programs: what the SVG draws, lines and texts on layers by what
they are; one unit of the drawing is a millimetre. There is one geometry, the SVG's."""

from __future__ import annotations

from io import StringIO

from ezdxf import units
from ezdxf.document import Drawing
from ezdxf.enums import TextEntityAlignment

from voltaje.web.drawings.geometry import Words, shapes

# layer by the class that a shape or a text has in the SVG, with a colour of the DXF palette
LAYERS = {
    "run": ("CONDUCTORS", 7),
    "sym": ("SYMBOLS", 7),
    "b": ("NAMES", 7),
    "s": ("FIGURES", 8),
    "pass": ("PASS", 3),
    "check": ("CHECK", 2),
    "fail": ("FAIL", 1),
}
OTHER = ("OTHER", 8)
HEIGHTS = {"b": 9.0, "s": 7.5}  # of capitals, for type of 12 and 10.5 units


def to_dxf(svg: str) -> str:
    """The drawing of an SVG as a DXF file of the release of 2010."""
    document = Drawing.new("R2010")
    document.units = units.MM
    for name, color in (*LAYERS.values(), OTHER):
        document.layers.add(name, color=color)
    space = document.modelspace()
    for shape in shapes(svg):
        kind = next((name for name in shape.classes if name in LAYERS), "")
        layer = {"layer": LAYERS.get(kind, OTHER)[0]}
        if isinstance(shape, Words):
            x, y = shape.at
            align = TextEntityAlignment.CENTER if shape.middle else TextEntityAlignment.LEFT
            text = space.add_text(shape.text, height=HEIGHTS.get(kind, 8.0), dxfattribs=layer)
            text.set_placement((x, -y), align=align)
        else:
            points = [(x, -y) for x, y in shape.points]  # the drawing's y runs up there
            space.add_lwpolyline(points, close=shape.closed, dxfattribs=layer)
    out = StringIO()
    document.write(out)
    return out.getvalue()
