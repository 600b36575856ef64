"""Writes all words of the program into a template for catalogues."""

from __future__ import annotations

from argparse import ArgumentParser
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from babel.messages.catalog import Catalog
from babel.messages.pofile import read_po, write_po
from django.core.management.base import BaseCommand, CommandError

from voltaje.web import words


class Command(BaseCommand):
    """``words FILE.pot`` makes a new template; ``words FILE.po`` brings a catalogue up to date: new
    texts come in empty, those that are gone are kept as obsolete."""

    help = "Write all texts to FILE.pot, or bring the catalogue FILE.po up to date."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("file", nargs="?", default="voltaje.pot")

    def handle(self, *args: Any, file: str, **options: Any) -> None:
        path = Path(file)
        if path.suffix not in (".pot", ".po"):
            raise CommandError(f"{file}: give a file that ends in .pot or .po.")
        fresh = Catalog(project="Voltaje", charset="utf-8")
        for text, places in words.every().items():
            fresh.add(text, locations=[_place(place) for place in places[:3]])
        made = fresh
        if path.suffix == ".po" and path.exists():
            with path.open("rb") as old:
                made = read_po(old)
            made.update(fresh, no_fuzzy_matching=True)
        with path.open("wb") as out:
            write_po(out, made, width=100, sort_output=True)
        lacking = sum(not _translated(message.string) for message in made if message.id)
        self.stdout.write(f"{path}: {len(made):,} texts, {lacking:,} without a translation")


def _place(place: str) -> tuple[str, int]:
    name, _, line = place.partition(":")
    return name, int(line) if line else 0


def _translated(string: str | Sequence[str] | None) -> bool:
    return all(string) if isinstance(string, tuple | list) else bool(string)
