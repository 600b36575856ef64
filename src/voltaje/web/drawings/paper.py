"""A drawing on paper as PDF: on one sheet, or in tiles at a size that can be read, that overlap and
can be joined. What is drawn is the SVG's geometry; the program's own font is embedded."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cache
from io import BytesIO
from math import ceil
from pathlib import Path

from fontTools.ttLib import TTFont as FontFile
from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4, landscape, letter
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from voltaje.web.drawings.geometry import Polyline, Words, shapes

FONTS = Path(__file__).parent.parent / "static" / "vendor"
PAPERS = {"letter": letter, "a4": A4}
MARGIN, HEAD, FOOT = 10 * mm, 9 * mm, 12 * mm
POINT = 0.68  # points of a unit of the drawing in tiles: type of 12 units is 8 points
OVERLAP = 24.0  # units of the drawing that neighbours both show
# colours and widths by the class that a line has in the drawing
STROKES = {"check": "#7d5206", "fail": "#a3261c", "incomplete": "#475654"}
SIZES = {"s": 10.5}
INK, SOFT, PASS = HexColor("#12201f"), HexColor("#475654"), HexColor("#17695b")


@dataclass(frozen=True, slots=True)
class Tile:
    """What of a drawing stands on one sheet: from where (units), how large a unit is (points), its
    name among the tiles, those to its right and below it."""

    x: float
    y: float
    scale: float
    name: str = ""
    right: str = ""
    below: str = ""


@dataclass(frozen=True, slots=True)
class Lettering:
    """What is written on each sheet: above it at the left, given the tile's name; above it at the
    right, given its number and how many there are; the caution below; the words for neighbours."""

    title: Callable[[str], str]
    number: Callable[[int, int], str]
    caution: str
    beside: Callable[[str, str], str]


def to_pdf(
    svg: str, size: tuple[float, float], paper: str, tiles: bool, lettering: Lettering
) -> bytes:
    """The drawing of an SVG of that size (units) on sheets of a paper of that name."""
    fonts()
    width, height = landscape(PAPERS[paper])
    if not tiles and _scale(size, PAPERS[paper]) > _scale(size, (width, height)):
        width, height = PAPERS[paper]
    across, down = _area((width, height))
    drawn = [(one, _box(one)) for one in shapes(svg)]
    cut = _tiles(size, (across, down), [box for _, box in drawn]) if tiles else ()
    sheets = cut or [Tile(0.0, 0.0, _scale(size, (width, height)))]
    out = BytesIO()
    canvas = Canvas(out, pagesize=(width, height), pageCompression=1)
    canvas.setTitle(lettering.title(""))
    for number, tile in enumerate(sheets, 1):
        _letter(canvas, (width, height), tile, (number, len(sheets)), lettering)
        canvas.saveState()
        area = canvas.beginPath()
        area.rect(MARGIN, MARGIN + FOOT, across, down)
        canvas.clipPath(area, stroke=0)
        window = (tile.x, tile.y, tile.x + across / tile.scale, tile.y + down / tile.scale)
        canvas.translate(MARGIN, height - MARGIN - HEAD)
        canvas.scale(tile.scale, tile.scale)
        canvas.translate(-tile.x, tile.y)
        for shape, box in drawn:
            if _meet(box, window):
                _draw(canvas, shape)
        canvas.restoreState()
        if tile.name:
            canvas.bookmarkPage(tile.name)
            canvas.addOutlineEntry(lettering.title(tile.name), tile.name)
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def _area(page: tuple[float, float]) -> tuple[float, float]:
    """What of a page the drawing has, points."""
    return page[0] - 2 * MARGIN, page[1] - 2 * MARGIN - HEAD - FOOT


def _scale(size: tuple[float, float], page: tuple[float, float]) -> float:
    """Points of a unit of a drawing that is as large as a page takes it, or as it is read well."""
    across, down = _area(page)
    return min(across / size[0], down / size[1], POINT)


PLAIN, BOLD = "B612", "B612-Bold"


@cache
def fonts() -> None:
    """Makes the program's font known; it ships packed for browsers."""
    for name, weight in ((PLAIN, 400), (BOLD, 700)):
        font = FontFile(FONTS / f"b612-latin-{weight}-normal.woff2")
        font.flavor = None
        plain = BytesIO()
        font.save(plain)
        plain.seek(0)
        pdfmetrics.registerFont(TTFont(name, plain))


Box = tuple[float, float, float, float]


def _box(shape: Polyline | Words) -> Box:
    """The least and greatest x and y of a shape."""
    if isinstance(shape, Words):
        x, y = shape.at
        wide = pdfmetrics.stringWidth(shape.text, "B612-Bold", 12)
        return (x - wide / 2 if shape.middle else x, y - 12, x + wide, y + 4)
    xs, ys = zip(*shape.points, strict=True)
    return min(xs) - 2, min(ys) - 2, max(xs) + 2, max(ys) + 2


def _meet(box: Box, window: Box) -> bool:
    return (
        box[0] <= window[2] and box[2] >= window[0] and box[1] <= window[3] and box[3] >= window[1]
    )


def _tiles(
    size: tuple[float, float], area: tuple[float, float], boxes: Sequence[Box]
) -> list[Tile]:
    """The tiles that show anything, row by row."""
    across, down = area[0] / POINT, area[1] / POINT
    columns = max(1, ceil((size[0] - OVERLAP) / (across - OVERLAP)))
    rows = max(1, ceil((size[1] - OVERLAP) / (down - OVERLAP)))
    if columns == rows == 1:
        return []
    at = {
        (row, column): (column * (across - OVERLAP), row * (down - OVERLAP))
        for row in range(rows)
        for column in range(columns)
    }
    names = {
        key: _name(*key)
        for key, (x, y) in at.items()
        if any(_meet(box, (x, y, x + across, y + down)) for box in boxes)
    }
    return [
        Tile(
            *at[row, column],
            POINT,
            name,
            names.get((row, column + 1), ""),
            names.get((row + 1, column), ""),
        )
        for (row, column), name in names.items()
    ]


def _name(row: int, column: int) -> str:
    """A1, A2 beside it, B1 below."""
    letters, row = "", row + 1
    while row:
        row, rest = divmod(row - 1, 26)
        letters = chr(65 + rest) + letters
    return f"{letters}{column + 1}"


def _letter(
    canvas: Canvas,
    size: tuple[float, float],
    tile: Tile,
    number: tuple[int, int],
    lettering: Lettering,
) -> None:
    """The lines above and below the drawing."""
    width, height = size
    canvas.setFillColor(INK)
    canvas.setFont("B612-Bold", 9)
    canvas.drawString(MARGIN, height - MARGIN - 8, lettering.title(tile.name))
    canvas.setFont("B612", 8)
    canvas.drawRightString(width - MARGIN, height - MARGIN - 8, lettering.number(*number))
    canvas.setStrokeColor(SOFT)
    canvas.setLineWidth(0.5)
    canvas.line(MARGIN, height - MARGIN - 13, width - MARGIN, height - MARGIN - 13)
    canvas.setFillColor(SOFT)
    canvas.setFont("B612", 8)
    if beside := lettering.beside(tile.right, tile.below):
        canvas.drawRightString(width - MARGIN, MARGIN + FOOT - 10, beside)
    canvas.setFont("B612", 6.5)
    for line, words in enumerate(_lines(lettering.caution, width - 2 * MARGIN)):
        canvas.drawString(MARGIN, MARGIN + 8 - 8 * line, words)


def _lines(text: str, width: float) -> list[str]:
    """A text in lines that are not wider."""
    found, line = [], ""
    for word in text.split():
        longer = f"{line} {word}".strip()
        if line and pdfmetrics.stringWidth(longer, "B612", 6.5) > width:
            found.append(line)
            longer = word
        line = longer
    return [*found, line]


def _draw(canvas: Canvas, shape: Polyline | Words) -> None:
    """One shape; the canvas's y runs up."""
    css = set(shape.classes)
    if isinstance(shape, Words):
        small = "s" in css
        canvas.setFillColor(SOFT if small else INK)
        canvas.setFont("B612-Bold" if "b" in css else "B612", SIZES["s"] if small else 12)
        put = canvas.drawCentredString if shape.middle else canvas.drawString
        put(shape.at[0], -shape.at[1], shape.text)
        return
    path = canvas.beginPath()
    path.moveTo(shape.points[0][0], -shape.points[0][1])
    for x, y in shape.points[1:]:
        path.lineTo(x, -y)
    if shape.closed:
        path.close()
    mark = next((name for name in STROKES if name in css), "")
    canvas.setStrokeColor(HexColor(STROKES[mark]) if mark else INK)
    canvas.setLineWidth(2.0 if mark else 1.6)
    canvas.setDash((3, 2) if mark == "incomplete" else ())
    filled = "fill" in css or "pass" in css
    canvas.setFillColor(PASS if "pass" in css else HexColor("#ffffff"))
    canvas.drawPath(path, stroke="pass" not in css, fill=filled)
