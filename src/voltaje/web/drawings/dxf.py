"""A drawing as DXF, for drawing programs: what the SVG draws, lines and texts on layers by what
they are; one unit of the drawing is a millimetre. There is one geometry, the SVG's."""

from __future__ import annotations

from collections.abc import Iterator
from io import StringIO

from ezdxf import units
from ezdxf.document import Drawing
from ezdxf.enums import TextEntityAlignment
from svgelements import SVG, Close, Line, Move, Path, Shape, Text

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
STEPS = 12  # of a curve
HEIGHTS = {"b": 9.0, "s": 7.5}  # of capitals, for type of 12 and 10.5 units


def to_dxf(svg: str) -> str:
    """The drawing of an SVG as a DXF file of the release of 2010."""
    document = Drawing.new("R2010")
    document.units = units.MM
    for name, color in (*LAYERS.values(), OTHER):
        document.layers.add(name, color=color)
    space = document.modelspace()
    for element in SVG.parse(StringIO(svg), reify=True).elements():
        css = str(element.values.get("class") or "").split() if hasattr(element, "values") else []
        kind = next((name for name in css if name in LAYERS), "")
        layer = {"layer": LAYERS.get(kind, OTHER)[0]}
        if isinstance(element, Text):
            at = element.transform.point_in_matrix_space((element.x, element.y))
            middle = element.anchor == "middle"
            align = TextEntityAlignment.CENTER if middle else TextEntityAlignment.LEFT
            text = space.add_text(element.text, height=HEIGHTS.get(kind, 8.0), dxfattribs=layer)
            text.set_placement((at.x, -at.y), align=align)
        elif isinstance(element, Shape):
            for points, closed in _polylines(Path(element)):
                space.add_lwpolyline(points, close=closed, dxfattribs=layer)
    out = StringIO()
    document.write(out)
    return out.getvalue()


def _polylines(path: Path) -> Iterator[tuple[list[tuple[float, float]], bool]]:
    """A path as lines of points, curves in steps; the drawing's y runs up there, not down."""
    points: list[tuple[float, float]] = []
    for segment in path:
        if isinstance(segment, Move):
            if len(points) > 1:
                yield points, False
            points = [(segment.end.x, -segment.end.y)]
        elif isinstance(segment, Close):
            if len(points) > 1:
                yield points, True
            points = []
        elif isinstance(segment, Line):
            points.append((segment.end.x, -segment.end.y))
        else:
            found = (segment.point(step / STEPS) for step in range(1, STEPS + 1))
            points += [(point.x, -point.y) for point in found]
    if len(points) > 1:
        yield points, False
