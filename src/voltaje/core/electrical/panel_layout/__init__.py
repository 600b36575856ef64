"""A board's places: how they are numbered, which line stands behind each, what stands where.

``layout`` numbers the places, ``schedule`` seats devices in them and says why one cannot stand
where it was put, ``moving`` moves them by hand, ``order`` goes from one schedule to another step by
step. Numberings and the order of lines are common
practice; the place numbers of a board are on its nameplate.
"""

from voltaje.core.electrical.panel_layout.layout import (
    NUMBERINGS,
    Numbering,
    PanelLayout,
    Place,
    Span,
    lay_out,
    line_of,
    number_of,
)
from voltaje.core.electrical.panel_layout.moving import MisplacedError, move
from voltaje.core.electrical.panel_layout.order import Shift, order
from voltaje.core.electrical.panel_layout.schedule import (
    Device,
    Schedule,
    Seat,
    Trouble,
    fill,
    is_set,
    lines_used,
    stand,
)

__all__ = [
    "NUMBERINGS",
    "Device",
    "MisplacedError",
    "Numbering",
    "PanelLayout",
    "Place",
    "Schedule",
    "Seat",
    "Shift",
    "Span",
    "Trouble",
    "fill",
    "is_set",
    "lay_out",
    "line_of",
    "lines_used",
    "move",
    "number_of",
    "order",
    "stand",
]
