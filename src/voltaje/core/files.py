"""Files of a program: JSON read strictly, answers written as figures are."""

from __future__ import annotations

import json
import os
import sys
from typing import Any

DIGITS = 10  # a figure is printed to so many significant digits


class UnreadableFileError(ValueError):
    """A file that is not the JSON that is asked for. ``str()`` says where it breaks."""


def read_json(path: str) -> Any:
    """The JSON of a file, of standard input for ``-``. A key that is given twice, NaN and Infinity
    are refused by name. Raises :class:`UnreadableFileError`."""
    try:
        if path == "-":
            return json.load(sys.stdin, object_pairs_hook=_once, parse_constant=_refused)
        with open(path, encoding="utf-8") as file:
            return json.load(file, object_pairs_hook=_once, parse_constant=_refused)
    except OSError as error:
        raise UnreadableFileError(f"cannot read {path}: {error.strerror}") from None
    except UnreadableFileError as error:
        raise UnreadableFileError(f"{path}: {error}") from None
    except (ValueError, RecursionError) as error:
        raise UnreadableFileError(f"{path} is not JSON: {error}") from None


def _once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for key, value in pairs:
        if key in found:
            raise UnreadableFileError(f"“{key}” is given twice")
        found[key] = value
    return found


def _refused(name: str) -> Any:
    raise UnreadableFileError(f"{name} is no figure")


def tidy(node: Any) -> Any:
    """The same with every float as it would be written: 5.5, not 5.500000000000001."""
    if isinstance(node, bool) or not isinstance(node, float | dict | list | tuple):
        return node
    if isinstance(node, dict):
        return {key: tidy(value) for key, value in node.items()}
    if isinstance(node, list | tuple):
        return [tidy(value) for value in node]
    return float(f"{node:.{DIGITS}g}")


def write_json(node: Any) -> None:
    """Prints it. A reader that has seen enough, like ``head``, ends it without a word."""
    try:
        print(json.dumps(tidy(node), indent=2, ensure_ascii=False))
        sys.stdout.flush()
    except BrokenPipeError:
        # what is left must not be tried again when the interpreter ends
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
