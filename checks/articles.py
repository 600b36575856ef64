"""Where a rule is: every article and table of the codes, its name in the tables, and the modules
that read it. Written to docs/articles.md; ``python checks/articles.py --check`` says whether that
is up to date.

A rule's topic is a text of the program, so the modules that name it are found by it; a limit is
found by its own name in ``limits.csv`` as well.
"""

from __future__ import annotations

import ast
import re
import sys
from collections import defaultdict
from pathlib import Path

HERE = Path(__file__).parent.parent
SOURCE = HERE / "src" / "voltaje"
PAGE = HERE / "docs" / "articles.md"
sys.path.insert(0, str(SOURCE.parent))

from voltaje.core.codes import Edition, editions  # noqa: E402

OPEN = "\0"  # after the beginning of a name that is put together

HEAD = """# Where a rule is

Every article and table that the program knows, by code: its topic (the name of its row in
`rules.csv`, of its table's file, or of its limits in `limits.csv`), and the modules of
`src/voltaje/core` that read it. Numbers of the newest edition of each code; what older ones call it
stands in their `rules.csv`. Written by `checks/articles.py`.
"""


def texts() -> dict[str, set[str]]:
    """The modules in which each text stands, by the text; parts of names that are put together
    (``f"k_{insulation}"``) by their fixed beginning, marked as open."""
    found: dict[str, set[str]] = defaultdict(set)
    for path in sorted((SOURCE / "core").rglob("*.py")):
        module = str(path.relative_to(SOURCE / "core").with_suffix(""))
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Constant) and isinstance(node.value, str):
                found[node.value].add(module)
            elif isinstance(node, ast.JoinedStr) and isinstance(node.values[0], ast.Constant):
                start = str(node.values[0].value)
                if re.fullmatch(r"[a-z][a-z_0-9]{2,}_", start):
                    found[start + OPEN].add(module)
    return found


def readers(names: set[str], where: dict[str, set[str]]) -> list[str]:
    """The modules that name any of these."""
    found: set[str] = set()
    for name in names:
        found |= where.get(name, set())
        for start, modules in where.items():
            if start.endswith(OPEN) and name.startswith(start.removesuffix(OPEN)):
                found |= modules
    return sorted(found)


def order(number: str) -> list[tuple[int, int, str]]:
    """Numbers in the order of the book: 90.1 before 110.14."""
    parts = re.findall(r"\d+|\D+", number)
    return [(0, int(p), "") if p.isdigit() else (1, 0, p) for p in parts]


def rows(edition: Edition, where: dict[str, set[str]]) -> list[str]:
    """One line for each topic of an edition."""
    limits: dict[str, set[str]] = defaultdict(set)
    if edition.has_table("limits"):
        for name, cells in edition.table("limits").rows.items():
            limits[cells["rule"]].add(name)
    lines: list[tuple[list[tuple[int, int, str]], str]] = []
    for topic in edition.topics():
        text = edition.text(topic)
        number = f"Table {text.number}" if text.is_table else text.number
        found = ", ".join(f"`{name}`" for name in readers({topic} | limits[topic], where))
        lines.append((order(text.number), f"| {number} | `{topic}` | {found or '–'} |"))
    return [line for _, line in sorted(lines)]


def page() -> str:
    """The whole page."""
    where = texts()
    parts = [HEAD]
    newest = {code.family: code for code in editions()}
    for edition in newest.values():
        parts.append(
            f"\n## {edition.title}\n\n| Article | Topic | Read in |\n| --- | --- | --- |\n"
        )
        parts.append("\n".join(rows(edition, where)) + "\n")
    return "".join(parts)


def main() -> int:
    """Writes the page, or says that it is out of date."""
    text = page()
    if "--check" in sys.argv:
        if PAGE.read_text() != text:
            print("docs/articles.md is out of date: run checks/articles.py", file=sys.stderr)
            return 1
        return 0
    PAGE.write_text(text)
    return 0


if __name__ == "__main__":
    sys.exit(main())
