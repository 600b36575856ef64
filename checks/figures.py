"""No figure of a code stands in Python: it is a cell of an edition, where it can be amended.

Reads the rules and the parts and names every number that is neither arithmetic (0 to 3, 100,
1,000, tolerances), nor what an entry reads or shows, nor a constant whose comment says that it is
common practice, physics or no code figure. A figure in an entry's help is one too: ``counts`` tells
it from its cell. A figure leaves ``codes`` as a cell, which knows its address: nothing else reads a
table, and no address of a cell is spelled a second time. Run by ``./voltaje check``.
"""

import ast
import re
import sys
from pathlib import Path

HOME = Path(__file__).parent.parent / "src/voltaje/core"
ARITHMETIC = {0, 1, 2, 3, 100, 1000}
SMALL = 1e-5
# what an entry reads, its help and default; how many digits are printed; how much is remembered
FREE_CALLS = {"entry", "Usual", "Reads", "ReadsNameplate", "figure", "round", "lru_cache", "scaleb"}
# how a temperature may be written, what 1,000 V divides
HOW = re.compile(r"104 °F|1,000 V")
SAID = re.compile(r"common practice|no code figure|IEC|physics", re.IGNORECASE)


def name_of(call: ast.Call) -> str:
    target = call.func
    return target.id if isinstance(target, ast.Name) else getattr(target, "attr", "")


def excused(lines: list[str], node: ast.stmt) -> bool:
    """Whether the statement's own lines or the comment above it say what the figure is."""
    at = node.lineno - 1
    above = []
    while at > 0 and lines[at - 1].lstrip().startswith("#"):
        at -= 1
        above.append(lines[at])
    own = lines[node.lineno - 1 : node.end_lineno]
    return any(SAID.search(text.partition("#")[2]) for text in (*above, *own) if "#" in text)


class Figures(ast.NodeVisitor):
    """Collects the lines of a module that hold a figure without a source."""

    def __init__(self, text: str) -> None:
        self.lines = text.splitlines()
        self.found: list[int] = []

    def visit_Call(self, node: ast.Call) -> None:
        if name_of(node) not in FREE_CALLS and not name_of(node).endswith("_entry"):
            self.generic_visit(node)
        else:  # the first argument of figure() is a value like any other
            for argument in node.args[:1] if name_of(node) in ("figure", "round") else ():
                self.visit(argument)
            for keyword in node.keywords:
                if keyword.arg == "help":
                    self.visit_keyword(keyword)

    def visit_keyword(self, node: ast.keyword) -> None:
        if node.arg == "help" and isinstance(node.value, ast.Constant) and self.told(node.value):
            self.found.append(node.value.lineno)
        if node.arg != "order":  # the place of a kind in a list
            self.generic_visit(node)

    def told(self, node: ast.Constant) -> bool:
        """Whether a help tells a figure: more than how many, a temperature or a multiple of one."""
        figures = re.findall(r"\d[\d,.]*", re.sub(HOW, "", str(node.value)))
        return any(float(one.strip(",.").replace(",", "")) > 1 for one in figures)

    def visit_Slice(self, node: ast.Slice) -> None:
        """How many of a list are shown is nobody's rule."""

    def visit_Assign(self, node: ast.Assign | ast.AnnAssign) -> None:
        if not excused(self.lines, node):
            self.generic_visit(node)

    visit_AnnAssign = visit_Assign  # noqa: N815

    def visit_Constant(self, node: ast.Constant) -> None:
        value = node.value
        if isinstance(value, bool) or not isinstance(value, int | float):
            return
        if abs(value) not in ARITHMETIC and abs(value) > SMALL:
            self.found.append(node.lineno)


def parted(tree: ast.Module) -> list[int]:
    """The lines that read a table as text, or spell the address of a cell."""
    found = []
    for node in ast.walk(tree):
        if not isinstance(node, ast.Call) or not isinstance(node.func, ast.Attribute):
            continue
        name, spelled = node.func.attr, len(node.args)
        if name == "table" or (name in ("rule", "cites") and spelled > 2):
            found.append(node.lineno)
    return found


def main() -> int:
    """Prints what it finds; 1 where there is anything."""
    failed = 0
    for path in sorted([*(HOME / "rules").rglob("*.py"), *(HOME / "kinds").rglob("*.py")]):
        figures = Figures(path.read_text(encoding="utf-8"))
        tree = ast.parse("\n".join(figures.lines))
        figures.visit(tree)
        where = path.relative_to(HOME.parent.parent.parent)
        told = {"a figure without a source": figures.found, "a cell without itself": parted(tree)}
        for what, lines in told.items():
            for line in sorted(set(lines)):
                failed = 1
                print(f"{where}:{line}: {what}: {figures.lines[line - 1].strip()}")
    return failed


if __name__ == "__main__":
    sys.exit(main())
