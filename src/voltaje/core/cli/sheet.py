"""``voltaje sheet``: a part worked from a file of entries, as JSON, without server or database."""

from __future__ import annotations

import argparse
import sys
from typing import Any

from voltaje.core.codes import NotCoveredError, code_edition, editions
from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.entries import schema
from voltaje.core.files import UnreadableFileError, read_json, write_json
from voltaje.core.kinds import Context, Evaluated, evaluate, kind, kinds
from voltaje.core.quantities import UnitSystem
from voltaje.core.report import Report, to_json
from voltaje.core.rules.context import supplied
from voltaje.core.rules.interface import code_of, usual_supplies

OK, BAD_ENTRIES, BAD_CALL, INCOMPLETE = 0, 1, 2, 3


def report(evaluated: Evaluated) -> dict[str, Any]:
    """A worked part, or its problems, as JSON; not ``ok`` either where results that it needs are
    ``missing``. The web's address gives the same."""
    worked: Report | None = evaluated.report
    if worked is None:
        problems = [{"entry": p.path, "words": p.words} for p in evaluated.problems]
        missing = [one.name or one.part for one in evaluated.missing]
        return {"ok": False, "status": "incomplete", "missing": missing, "problems": problems}
    return {"ok": not worked.missing, "problems": [], **to_json(worked)}


def main(arguments: list[str] | None = None) -> int:
    """Runs the command. 0: worked; 1: the entries have problems; 2: the call has."""
    parser = argparse.ArgumentParser(prog="voltaje sheet", description=__doc__)
    parser.add_argument("kind", nargs="?", help="kind of part; see --list")
    parser.add_argument("file", nargs="?", help="JSON file of entries, or - for standard input")
    parser.add_argument("--code", default="nec-2020", help="code edition (nec-2020)")
    parser.add_argument(
        "--system", choices=list(SYSTEMS), help="supply system (the usual one of the code)"
    )
    parser.add_argument(
        "--units",
        choices=("us", "metric"),
        help="unit of bare lengths: us feet, metric metres (that of the code edition)",
    )
    parser.add_argument("--list", action="store_true", help="the kinds and the code editions")
    parser.add_argument("--json", action="store_true", help="with --list: as JSON")
    parser.add_argument("--schema", action="store_true", help="JSON schema of the kind's entries")
    given = parser.parse_intermixed_args(arguments)
    if given.list and given.json:
        write_json(
            {
                "kinds": [
                    {"name": k.name, "label": k.label, "subtitle": k.subtitle} for k in kinds()
                ],
                "codes": [{"id": e.id, "title": e.title} for e in editions()],
                "systems": [{"id": s.id, "label": s.label} for s in SYSTEMS.values()],
            }
        )
        return OK
    if given.list:
        for item in kinds():
            print(f"{item.name:20} {item.label}: {item.subtitle}")
        print("codes                " + ", ".join(e.id for e in editions()))
        return OK
    try:
        of = kind(given.kind or "")
    except KeyError:
        return refuse("sheet", f"no such kind: {given.kind or '(none)'}; see voltaje sheet --list")
    try:
        code = code_edition(given.code)
    except NotCoveredError:
        known = ", ".join(e.id for e in editions())
        return refuse("sheet", f"no such code: {given.code}; there are {known}")
    family = code_of(code.family)
    units: UnitSystem = given.units or family.units
    if given.schema:
        write_json(schema(of.entries_in(family), units))
        return OK
    if given.file is None:
        return refuse("sheet", "which entries? give a JSON file, or - for standard input")
    try:
        document = read_json(given.file)
    except UnreadableFileError as error:
        return refuse("sheet", str(error))
    system = SYSTEMS[given.system] if given.system else usual_supplies(family)[0]
    found = report(evaluate(of, document, Context(code, units, supplied(system, code))))
    write_json({"units": units, "system": system.id, **found})
    return OK if found["ok"] else BAD_ENTRIES


def refuse(command: str, words: str) -> int:
    """Says on standard error why a call is wrong; the exit code."""
    print(f"voltaje {command}: {words}", file=sys.stderr)
    return BAD_CALL


if __name__ == "__main__":
    sys.exit(main())
