"""The glossary for who reads the code: each trade term with its article in each code and the
module that works it out. Written to docs/glossary.md from checks/terms.csv and the codes' own
tables; ``python checks/glossary.py --check`` says whether it is up to date.
"""

from __future__ import annotations

import csv
import sys
from pathlib import Path

HERE = Path(__file__).parent.parent
CORE = HERE / "src" / "voltaje" / "core"
PAGE, TERMS = HERE / "docs" / "glossary.md", HERE / "checks" / "terms.csv"
sys.path.insert(0, str(HERE / "src"))

from voltaje.core.codes import Edition, editions  # noqa: E402

HEAD = """# Glossary

Where a trade term stands: its article in the newest edition of each code (T: a table; empty: the
code has none that is used here), and the module of `src/voltaje/core` that works it out. In
brackets what BS 7671, SANS 10142-1 and AS/NZS 3000 call it. Every article with all modules that
read it: [articles](articles.md). Written by `checks/glossary.py`.
"""


def newest() -> dict[str, Edition]:
    """The newest edition of each family, in their order."""
    return {edition.family: edition for edition in editions()}


def article(topics: list[str], edition: Edition) -> str:
    """The numbers of the first topics that an edition has."""
    found = []
    for topic in topics:
        if topic in edition.topics():
            rule = edition.text(topic)
            found.append(f"T {rule.number}" if rule.is_table else str(rule.number))
    return ", ".join(dict.fromkeys(found))


def page() -> tuple[str, list[str]]:
    """The page, and what is wrong with the list of terms."""
    books, wrong = newest(), []
    heads = ["Term", *(book.title for book in books.values()), "Module"]
    lines = [HEAD, " | ".join(["", *heads, ""]).strip(), "|" + " --- |" * len(heads)]
    with TERMS.open(encoding="utf-8", newline="") as file:
        rows = sorted(csv.DictReader(file), key=lambda row: row["term"].lower())
    for row in rows:
        topics, modules = row["topics"].split(), row["module"].split()
        wrong += [f"{row['term']}: no module {m}" for m in modules if not there(m)]
        known = {topic for book in books.values() for topic in book.topics()}
        wrong += [f"{row['term']}: no code has {topic}" for topic in topics if topic not in known]
        term = row["term"] + (f" ({row['term elsewhere']})" if row["term elsewhere"] else "")
        cells = [term, *(article(topics, book) for book in books.values())]
        lines.append("| " + " | ".join([*cells, ", ".join(f"`{m}`" for m in modules)]) + " |")
    return "\n".join(lines) + "\n", wrong


def there(module: str) -> bool:
    return (CORE / f"{module}.py").exists()


def main(arguments: list[str]) -> int:
    text, wrong = page()
    for line in wrong:
        print(line)
    if "--check" not in arguments:
        PAGE.write_text(text, encoding="utf-8")
    elif not PAGE.exists() or PAGE.read_text(encoding="utf-8") != text:
        wrong.append("docs/glossary.md is out of date: run checks/glossary.py")
        print(wrong[-1])
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
