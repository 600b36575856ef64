"""How a program's entries are read."""

from __future__ import annotations

from typing import Any

from rest_framework.exceptions import ParseError
from rest_framework.parsers import JSONParser


class EntriesParser(JSONParser):
    """JSON as a sheet takes it; what is nested beyond reason is answered like what is not JSON."""

    def parse(self, stream: Any, media_type: Any = None, parser_context: Any = None) -> Any:
        """Raises ``ParseError``."""
        try:
            return super().parse(stream, media_type, parser_context)
        except (RecursionError, UnicodeError) as error:
            raise ParseError("The body does not read as the JSON of a sheet.") from error
