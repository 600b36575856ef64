"""``voltaje ask``: a question answered on the command line, without server or database."""

from __future__ import annotations

import json
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from voltaje.web.parts.answers import MOST_ASKED, as_json, ask


class Command(BaseCommand):
    """Answers a question like ``20 hp 460 V``; exit code 1 where nothing answers it."""

    help = "Answers a question like '20 hp 460 V' by a table or a sheet."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        """The question, and how it is printed."""
        parser.add_argument("question", nargs="+")
        parser.add_argument("--json", action="store_true", help="as JSON, with all figures")

    def handle(self, *args: Any, **options: Any) -> None:
        """Prints the answers, the best first."""
        asked = " ".join(options["question"])[:MOST_ASKED]
        found = ask(asked)
        if options["json"]:
            self.stdout.write(json.dumps(as_json(asked, found), indent=2, ensure_ascii=False))
        else:
            if found.missed:
                self.stdout.write(f"not understood: {', '.join(found.missed)}")
            for one in found.answers:
                cited = ", ".join([one.code, *one.rules])
                self.stdout.write(f"{one.title}: {' · '.join(one.figures) or one.needs}  ({cited})")
                if one.figures and one.needs:
                    self.stdout.write(f"  {one.needs}")
                for line in (*one.assumed, *(f"not taken over: {text}" for text in one.unread)):
                    self.stdout.write(f"  {line}")
            if not found.answers:
                self.stdout.write("No answer to this is known here.")
        if not any(one.figures for one in found.answers):
            raise SystemExit(1)
