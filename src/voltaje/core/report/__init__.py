"""A calculation that shows itself: lines, the rules they follow, findings, results.

``text`` has words and figures, ``sheet`` what a worksheet is made of, ``worksheet`` the builders
that make a line read like the tape that it prints, ``as_json`` the same for programs. Beneath it
is nothing; everything above it speaks through it.
"""

from voltaje.core.report.as_json import to_json
from voltaje.core.report.sheet import (
    Alternative,
    AxisMark,
    Finding,
    Flow,
    InstrumentPoint,
    LineKind,
    MethodAlternative,
    Offer,
    PointKey,
    PulledConductor,
    Report,
    Result,
    Rule,
    Section,
    Severity,
    Test,
    WorksheetLine,
    conductor_figures,
    worst,
)
from voltaje.core.report.text import (
    NUMBERS,
    REL_TOLERANCE,
    Rounded,
    Text,
    figure,
    figure_beside,
    fits,
    say,
    signed,
    told,
    translated_by,
    words,
)
from voltaje.core.report.worksheet import Findings, Worksheet

__all__ = [
    "NUMBERS",
    "REL_TOLERANCE",
    "Alternative",
    "AxisMark",
    "Finding",
    "Findings",
    "Flow",
    "InstrumentPoint",
    "LineKind",
    "MethodAlternative",
    "Offer",
    "PointKey",
    "PulledConductor",
    "Report",
    "Result",
    "Rounded",
    "Rule",
    "Section",
    "Severity",
    "Test",
    "Text",
    "Worksheet",
    "WorksheetLine",
    "conductor_figures",
    "figure",
    "figure_beside",
    "fits",
    "say",
    "signed",
    "to_json",
    "told",
    "translated_by",
    "words",
    "worst",
]
