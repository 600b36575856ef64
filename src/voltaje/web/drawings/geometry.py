"""What an SVG of ours draws, for other formats: lines and texts, each with the class that it has
there, so that there is one geometry. Units are the drawing's; y runs down."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from io import StringIO

import numpy as np
from svgelements import SVG, Close, Line, Move, Path, Shape, Text

ALONG = np.linspace(0, 1, 13)[1:]  # of a curve
Point = tuple[float, float]


@dataclass(frozen=True, slots=True)
class Polyline:
    """A line through points, ``closed`` or not."""

    classes: tuple[str, ...]
    points: Sequence[Point]
    closed: bool


@dataclass(frozen=True, slots=True)
class Words:
    """A text from its point on the base line, or around it."""

    classes: tuple[str, ...]
    at: Point
    text: str
    middle: bool


def shapes(svg: str) -> Iterator[Polyline | Words]:
    """The lines and texts of an SVG, in its order."""
    for element in SVG.parse(StringIO(svg), reify=True).elements():
        css = str(element.values.get("class") or "").split() if hasattr(element, "values") else []
        classes = tuple(css)
        if isinstance(element, Text):
            at = element.transform.point_in_matrix_space((element.x, element.y))
            yield Words(classes, (at.x, at.y), element.text, element.anchor == "middle")
        elif isinstance(element, Shape):
            for points, closed in _polylines(Path(element)):
                yield Polyline(classes, points, closed)


def _polylines(path: Path) -> Iterator[tuple[list[Point], bool]]:
    """A path as lines of points, curves in steps."""
    points: list[Point] = []
    for segment in path:
        if isinstance(segment, Move):
            if len(points) > 1:
                yield points, False
            points = [(segment.end.x, segment.end.y)]
        elif isinstance(segment, Close):
            if len(points) > 1:
                yield points, True
            points = []
        elif isinstance(segment, Line):
            points.append((segment.end.x, segment.end.y))
        else:
            points += [(float(x), float(y)) for x, y in segment.npoint(ALONG)]
    if len(points) > 1:
        yield points, False
