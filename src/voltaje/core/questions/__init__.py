"""Questions as they are asked: what stands in them, and what the tables answer by themselves."""

from voltaje.core.questions.reading import (
    AWG_SIZE,
    FIGURE,
    MEMBER,
    NAMEPLATE,
    NAMEPLATE_VOLTS,
    SECTION,
    AskedQuantities,
    listed,
    read_figures,
    said,
    words_of,
)

__all__ = [
    "AWG_SIZE",
    "FIGURE",
    "MEMBER",
    "NAMEPLATE",
    "NAMEPLATE_VOLTS",
    "SECTION",
    "AskedQuantities",
    "listed",
    "read_figures",
    "said",
    "words_of",
]
