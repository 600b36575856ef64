"""Lays templates out: a tag to a line where that shows nothing, none over 120 characters.

    python checks/templates.py            lays all of them out
    python checks/templates.py --check    names those that are not

A line is broken only where a browser shows no space for it: beside a tag that is a block of its
own, between the attributes of a tag, at a space that is there already. The formatters from the
registries break around ``{% if %}`` as well, and put spaces into the middle of a sentence or
between a figure and its comma; that is why this one is written here.
"""

from __future__ import annotations

import re
import sys
from pathlib import Path

HERE = Path(__file__).parent.parent / "src" / "voltaje" / "web" / "templates"
WIDTH = 120
INDENT = "  "
DEEPEST = 9  # steps

WRITTEN = r"\{%.*?%\}|\{\{.*?\}\}"
QUOTED = rf'"(?:{WRITTEN}|[^"])*"'
TOKEN = re.compile(
    rf"{WRITTEN}|\{{#.*?#\}}|<!--.*?-->|<[!/]?[a-zA-Z](?:{WRITTEN}|{QUOTED}|[^>\"])*>", re.DOTALL
)
NAME = re.compile(r"</?([a-zA-Z][\w-]*)")
CONTROL = re.compile(r"\{%-?\s*(\w+)")

# whitespace beside these shows nothing
BLOCKS = frozenset(
    """html head body title meta link script style template main header footer nav section article
    aside div form fieldset legend p ul ol li dl dt dd table caption colgroup col thead tbody tfoot
    tr td th h1 h2 h3 h4 h5 h6 details summary hr br dialog figure figcaption option optgroup
    select datalist noscript""".split()  # noqa: SIM905
)
SHAPES = BLOCKS | {"svg", "g", "path", "circle", "rect", "line", "polyline", "polygon", "defs"}
SHAPES |= {"marker", "use", "desc", "text"}
VOID = {"meta", "link", "col", "hr", "br", "input", "img"}
# inside these every character counts
WHOLE = ("pre", "textarea", "script", "style", "text", "tspan")
OPENS = {"if", "for", "with", "block", "filter", "ifchanged", "spaceless", "autoescape"}
SPLITS = {"elif", "else", "empty"}
CLOSES = {f"end{name}" for name in OPENS}
SILENT = OPENS | SPLITS | CLOSES | {"load", "extends", "comment", "endcomment"}


class Piece:
    """A tag, a control of the template, what it writes, or text between them."""

    def __init__(self, text: str, drawing: bool) -> None:
        self.text = text
        name = NAME.match(text)
        self.tag = name[1].lower() if name and text.startswith("<") else ""
        control = CONTROL.match(text)
        self.control = control[1] if control else ""
        self.closes = text.startswith("</") or self.control in CLOSES
        self.silent = self.control in SILENT or text.startswith("{#")
        self.block = self.tag in (SHAPES if drawing else BLOCKS)
        empty = text.endswith("/>") or self.tag in VOID
        self.opens = (bool(self.tag) and not self.closes and not empty) or self.control in OPENS
        self.space = not text.strip()


def pieces(text: str, drawing: bool) -> list[Piece]:
    """The template as pieces; what stands in a whole element stays one."""
    found: list[Piece] = []
    at = 0

    def plain(until: int) -> None:
        for part in re.split(r"(\s+)", text[at:until]):
            if part:
                found.append(Piece(part, drawing))

    for token in TOKEN.finditer(text):
        if token.start() < at:
            continue
        plain(token.start())
        at, end = token.end(), ""
        piece = Piece(token[0], drawing)
        if piece.control in ("blocktranslate", "blocktrans", "comment"):
            end = "{% end" + piece.control + " %}"
        elif piece.tag in WHOLE and not piece.closes and not token[0].endswith("/>"):
            end = f"</{piece.tag}>"
        if end:
            at = text.index(end, at) + len(end)
            piece.text = text[token.start() : at]
            piece.opens = piece.closes = False
        found.append(piece)
    plain(len(text))
    return found


def beside_block(found: list[Piece], at: int, step: int) -> bool:
    """Whether the first piece that shows anything, from there on, is a block's tag or nothing."""
    while 0 <= at < len(found):
        piece = found[at]
        if piece.block or (piece.control in ("block", "endblock", "extends")):
            return True
        if not piece.silent and not piece.space:
            return False
        at += step
    return True


PLAIN = re.compile(r'\{% translate "([^"%]*)" %\}')
TRANSLATED = re.compile(r"(\{% blocktrans\w*)(.*?%\})(.*)(\{% endblocktrans\w* %\})", re.DOTALL)


def translated(text: str, room: int, indent: str) -> str:
    """A text to translate on as many lines as it needs; ``trimmed`` makes one of them again."""
    found = TRANSLATED.fullmatch(text)
    if found is None:
        return text
    begin, options, words, end = found.groups()
    if " trimmed" not in options:
        spaced = words != " ".join(words.split()) or " {% plural" in words or "plural %} " in words
        if len(text) <= room or spaced:
            return text
        options = " trimmed" + options
    words = " ".join(words.split()).replace(" {% plural %} ", "{% plural %}")
    flat = f"{begin}{options}{words}{end}"
    if len(flat) <= room:
        return flat.replace(" trimmed", "", 1)
    lines = [begin + options]
    for word in re.findall(r"(?:\{\{.*?\}\}|\S)+", words.replace("{% plural %}", " {%plural%} ")):
        word = word.replace("{%plural%}", "{% plural %}")
        alone = "{% plural %}" in (word, lines[-1].strip())
        if len(lines) > 1 and not alone and len(lines[-1]) + 1 + len(word) <= WIDTH:
            lines[-1] += " " + word
        else:
            lines.append(indent + INDENT + word)
    return "\n".join([*lines, indent + end])


def wrapped(text: str, room: int, indent: str) -> str:
    """A tag on as many lines as it needs, broken between its attributes."""
    if text.startswith("{% blocktrans"):
        return translated(text, room, indent)
    if len(text) > room and (short := PLAIN.fullmatch(text)):
        return translated(f"{{% blocktranslate %}}{short[1]}{{% endblocktranslate %}}", 0, indent)
    start = TOKEN.match(text)
    if start and start.end() < len(text):  # what is in it counts, character by character
        rest = text[start.end() :]
        return wrapped(start[0], room - len(first_line(rest)), indent) + rest
    if len(text) <= room or not text.startswith("<") or text.startswith("<!--"):
        return text
    lines = [""]
    for glued, word in attributes(text):
        most = room if len(lines) == 1 else WIDTH
        if lines[-1] and len(lines[-1]) + len(word) + 1 > most:
            lines.append(indent + INDENT * 2 + word)
        else:
            lines[-1] += ("" if glued or not lines[-1] else " ") + word
        if len(lines[-1]) > WIDTH and (label := LABEL.fullmatch(lines[-1].strip())):
            # a text in an attribute is one line again when it is written
            inner = translated(label[2], 0, indent + INDENT * 2)
            lines[-1:] = f"{indent}{INDENT * 2}{label[1]}{inner}{label[3]}".split("\n")
    return "\n".join(lines)


LABEL = re.compile(r'([\w-]+=")(\{% blocktrans.*?\{% endblocktrans\w* %\})(".*)', re.DOTALL)
INSIDE = re.compile(rf"{WRITTEN}|{QUOTED}|\s+|.", re.DOTALL)


def attributes(text: str) -> list[tuple[bool, str]]:
    """What a tag is made of, each as short as it may stand, and whether it needs no space."""
    words: list[tuple[bool, str]] = []
    word, parts, glued = "", INSIDE.findall(text), False
    for part, after in zip(parts, [*parts[1:], ""], strict=True):
        control = CONTROL.match(part)
        if part.isspace():
            if word:
                words.append((glued, word))
            word, glued = "", False
            continue
        if control and control[1] in OPENS and after.isspace() and word:
            words.append((glued, word))
            word, glued = "", True
        word += re.sub(r"\s+", " ", part)
    return [*words, (glued, word)] if word else words


def laid_out(text: str, drawing: bool = False) -> str:
    """The template with its lines broken anew, so that doing it once more changes nothing."""
    for _ in range(6):
        again = _laid_out_once(text, drawing)
        if again == text:
            break
        text = again
    return text


SHORT = 84  # characters of an element that stays on one line


def gathered(found: list[Piece], drawing: bool) -> list[Piece]:
    """Short elements with nothing but words in them as one piece each."""
    out: list[Piece] = []
    index = 0
    while index < len(found):
        end = end_of_short(found, index)
        if end is None:
            out.append(found[index])
        else:
            parts = found[index : end + 1]
            inside = "".join(" " if part.space else flat(part.text) for part in parts[1:-1])
            one = Piece(flat(parts[0].text), drawing)
            one.text += inside.strip() + parts[-1].text
            one.opens = False
            out.append(one)
            index = end
        index += 1
    return out


def flat(text: str) -> str:
    return translated(" ".join(text.split()), 10_000, "")


def end_of_short(found: list[Piece], index: int) -> int | None:
    """Where such an element ends; ``None`` where none begins, or it is long."""
    first = found[index]
    if not first.opens or first.tag in WHOLE or not (first.block or first.control == "block"):
        return None
    many = len(first.text)
    for at in range(index + 1, len(found)):
        piece = found[at]
        many += 1 if piece.space else len(flat(piece.text))
        if many > SHORT or piece.tag in WHOLE:
            return None
        if piece.closes and (piece.tag, piece.control) == (
            first.tag,
            "endblock" if first.control else "",
        ):
            return at
        if piece.block or piece.control in ("block", "endblock"):
            return None
    return None


def _laid_out_once(text: str, drawing: bool) -> str:
    found = gathered(pieces(text, drawing), drawing)
    lines: list[str] = []
    line, depth, gap, blank = "", 0, False, False
    for index, piece in enumerate(found):
        if piece.space:
            gap, blank = True, blank or piece.text.count("\n") > 1
            continue
        free = beside_block(found, index - 1, -1) or beside_block(found, index, 1)
        level = depth - (piece.closes or piece.control in SPLITS)
        # a short element with what is in it stays on its line
        long = len(line) + len(first_line(piece.text)) + glued_after(found, index) >= WIDTH
        apart = piece.block or piece.silent or found[index - 1].block or gap or long
        breaks = line and free and apart
        whole = (
            piece.closes and len(line.strip()) + len(piece.text) <= 100 and lies_open(line, piece)
        )
        indent = INDENT * min(max(level, 0), DEEPEST)
        if breaks and not whole:
            lines.append(line)
            line = ""
        elif line and gap:
            if long:
                lines.append(line)
                line = ""
            else:
                line += " "
        elif long and line.endswith(">") and found[index - 1].tag not in WHOLE:
            # nothing may stand between: the bracket of the tag before goes along
            lines.append(line[:-1])
            line = indent + ">"
        if not line:
            if blank and lines and depth == 0:
                lines.append("")
            line = indent
        start = len(line.rsplit("\n", 1)[-1])
        line += wrapped(piece.text, WIDTH - start - glued_after(found, index), indent)
        if "\n" in line:
            *before, line = line.split("\n")
            lines += before
        depth += piece.opens - piece.closes
        gap = blank = False
    if line:
        lines.append(line)
    return "\n".join(part.rstrip() for part in lines) + "\n"


def glued_after(found: list[Piece], index: int) -> int:
    """How many characters must follow a piece on its last line."""
    many = 0
    for at in range(index + 1, len(found)):
        piece = found[at]
        if piece.space:
            break
        if piece.control.startswith(("trans", "blocktrans")):
            return many + len("{% blocktranslate trimmed %}")  # it can go on there
        if piece.tag:
            return many + len(piece.text.split()[0].rstrip(">"))  # and so can a tag
        if beside_block(found, at - 1, -1) or beside_block(found, at, 1):
            break
        many += len(piece.text)
    return many


def first_line(text: str) -> str:
    return text.split("\n", 1)[0]


def lies_open(line: str, piece: Piece) -> bool:
    """Whether the element that a piece closes was begun on this line."""
    if piece.tag:
        begun = len(re.findall(rf"<{piece.tag}\b", line)) - line.count(f"</{piece.tag}>")
    else:
        name = piece.control.removeprefix("end")
        begun = len(re.findall(rf"\{{% {name}\b", line)) - line.count(f"{{% end{name} ")
    return begun > 0


def shown(text: str, drawing: bool) -> list[str]:
    """What a browser makes of it: the pieces, a space only where one shows."""
    found = pieces(text, drawing)
    out: list[str] = []
    for index, piece in enumerate(found):
        if piece.space:
            before = beside_block(found, index - 1, -1)
            if not before and not beside_block(found, index + 1, 1):
                out.append(" ")
        else:
            text = re.sub(r"\s+", " ", piece.text)
            if piece.control.startswith("blocktrans"):
                text = re.sub(
                    r"%\} | \{% (?:end|plural)",
                    lambda m: m[0].strip(),
                    text.replace(" trimmed", "", 1),
                )
                text = re.sub(
                    r"\{% blocktranslate %\}([^{%\"]*)\{% endblocktranslate %\}",
                    r'{% translate "\1" %}',
                    text,
                )
            start = TOKEN.match(piece.text) if piece.tag else None
            if start and start.end() < len(piece.text):
                out.append(piece.text[start.end() :])
            if start:
                parts = (part for part in INSIDE.findall(start[0]) if not part.isspace())
                text = re.sub(r"\s+", " ", "".join(parts)).replace(" trimmed", "")
                text = re.sub(r"%\} | \{% (?:end|plural)", lambda m: m[0].strip(), text)
            out.append(text)
    return out


def main(arguments: list[str]) -> int:
    wrong = 0
    for path in sorted([*HERE.rglob("*.html"), *HERE.rglob("*.svg")]):
        text, drawing = path.read_text(encoding="utf-8"), path.suffix == ".svg"
        new = laid_out(text, drawing)
        if shown(new, drawing) != shown(text, drawing):
            odd = next(
                (a, b)
                for a, b in zip(shown(text, drawing), shown(new, drawing), strict=False)
                if a != b
            )
            print(f"{path.relative_to(HERE)}: laid out it would show something else: {odd}")
            wrong += 1
            continue
        if "--check" in arguments:
            if new != text:
                print(f"{path.relative_to(HERE)}: run checks/templates.py")
                wrong += 1
        elif new != text:
            path.write_text(new, encoding="utf-8")
        for number, line in enumerate(new.splitlines(), 1):
            if len(line) > WIDTH:
                print(f"{path.relative_to(HERE)}:{number}: {len(line)} characters")
                wrong += 1
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
