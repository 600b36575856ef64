"""What a part is told: a typed, validated model, written once for forms, files and programs.

A part's entries are a document of texts as typed (or of numbers, from a program). The model
reads it; :func:`parse` gives either the model or the problems, each at its field and in words
of the trade. :func:`fields` describes the model for a form, :func:`schema` for a program.

``readers`` read a field, ``model`` is what entries are, ``form`` and ``schema`` describe them,
``parsing`` reads a document, ``formerly`` one of an earlier version, ``unusual`` finds what is
missing or odd in it.
"""

from voltaje.core.entries.form import FieldSpec, fields, names_of, reads_of, row_models
from voltaje.core.entries.formerly import FormerIds, former_ids, of_today, path_of_today
from voltaje.core.entries.in_words import entry_words, plain_words, row_words
from voltaje.core.entries.model import (
    AS_COUNTED,
    AcceptedCheck,
    Document,
    Entries,
    NothingBelowError,
    Parsed,
    Problem,
    Row,
    Usual,
    WrongEntryError,
    entry,
)
from voltaje.core.entries.parsing import (
    MAX_ROWS,
    MOST_STRANGE,
    WRONG,
    name_units,
    parse,
    upgrade,
    walk,
)
from voltaje.core.entries.readers import (
    NAME_LENGTH,
    SLACK,
    Area,
    BigNameplate,
    Current,
    Few,
    KvaOrAmperes,
    Length,
    LoadAtItsVolts,
    Name,
    Nameplate,
    Percent,
    Power,
    PowerFactor,
    PowerOrAmperes,
    Reads,
    ReadsNameplate,
    Temperature,
    Units,
    Voltage,
    wrong,
)
from voltaje.core.entries.schema import schema
from voltaje.core.entries.unusual import ask_needed, unusual

__all__ = [
    "AS_COUNTED",
    "MAX_ROWS",
    "MOST_STRANGE",
    "NAME_LENGTH",
    "SLACK",
    "WRONG",
    "AcceptedCheck",
    "Area",
    "BigNameplate",
    "Current",
    "Document",
    "Entries",
    "Few",
    "FieldSpec",
    "FormerIds",
    "KvaOrAmperes",
    "Length",
    "LoadAtItsVolts",
    "Name",
    "Nameplate",
    "NothingBelowError",
    "Parsed",
    "Percent",
    "Power",
    "PowerFactor",
    "PowerOrAmperes",
    "Problem",
    "Reads",
    "ReadsNameplate",
    "Row",
    "Temperature",
    "Units",
    "Usual",
    "Voltage",
    "WrongEntryError",
    "ask_needed",
    "entry",
    "entry_words",
    "fields",
    "former_ids",
    "name_units",
    "names_of",
    "of_today",
    "parse",
    "path_of_today",
    "plain_words",
    "reads_of",
    "row_models",
    "row_words",
    "schema",
    "unusual",
    "upgrade",
    "walk",
    "wrong",
]
