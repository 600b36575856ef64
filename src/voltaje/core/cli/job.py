"""``voltaje job``: a whole job from one JSON file, worked without server or database.

The file is a tree of parts under their supply, with the edition, the units, the limits, local
amendments and what was measured; every part's answer comes back, boards, services and the volts of
the whole job among them.
"""

from __future__ import annotations

import argparse
from collections.abc import Iterator, Mapping, Set
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from voltaje.core.cli.sheet import BAD_CALL, BAD_ENTRIES, INCOMPLETE, OK, refuse, report
from voltaje.core.codes import Amendment, Edition, NotCoveredError, code_edition, editions
from voltaje.core.entries import schema
from voltaje.core.files import UnreadableFileError, read_json, write_json
from voltaje.core.job.calculate import calculate_job
from voltaje.core.job.readings import causes, compare
from voltaje.core.kinds import Evaluated, PartInput, current_name, job_kinds, kind
from voltaje.core.rules.interface import code_of
from voltaje.core.rules.settings import Limits, Shop

Word = Annotated[str, Field(max_length=120)]
MOST_PARTS, MOST_DEPTH = 600, 24  # as a job on the web
MOST_SAID = 200  # no code figure: so many problems of a file are told


class Strict(BaseModel):
    """A name that is not known is refused: a slip of the pen is no setting."""

    model_config = ConfigDict(extra="forbid")


class ReadingIn(Strict):
    """What was measured at a part's point, in V or A."""

    point: Word
    value: float = Field(ge=0, le=1e6)
    unit: Literal["V", "A"] = "V"


class PartIn(Strict):
    """A part: its kind, its name, its entries as ``voltaje sheet KIND --schema`` has them, what
    stands under it, what was measured there."""

    kind: Word
    name: Word = ""
    entries: dict[str, Any] = {}
    parts: list[PartIn] = []
    readings: list[ReadingIn] = []


class DropIn(Strict):
    """How far the volts may fall, and whether conductors are sized for it."""

    scheme: Literal["code", "supply", "tolerance", "own"] = "code"
    branch: float = Field(3.0, ge=0.5, le=20)
    total: float = Field(5.0, ge=0.5, le=20)
    sizing: Literal["told", "part", "total"] = "told"
    method: Literal["impedance", "resistance", "temperature"] = "impedance"


class AmendmentIn(Strict):
    """A figure that a jurisdiction has changed: the table, its row and column, the figure."""

    topic: Word
    row: Word
    column: Word = "value"
    value: Word
    jurisdiction: Word = ""
    reason: Word = ""


class JobIn(Strict):
    """A job: its supplies with everything under them, and what it is worked under."""

    name: Word = ""
    code: Word = "nec-2020"
    # of bare lengths; those of the code where none are named
    units: Literal["us", "metric"] | None = None
    devices: Literal["smallest", "maximum", "ampacity"] = "smallest"
    prices: dict[Word, Annotated[float, Field(ge=0)]] = {}
    # at which volts kVA and full-load current of transformers are shown
    basis: Literal["nominal", "actual"] = "nominal"
    # ratings in stock, A (none: any); the next size up where the load is within so many percent
    stock: list[Annotated[float, Field(gt=0)]] = []
    reserve: Annotated[float, Field(ge=0, le=50)] = 0.0
    drop: DropIn = DropIn()
    amendments: list[AmendmentIn] = []
    parts: list[PartIn] = Field(min_length=1)


def job_schema() -> dict[str, Any]:
    """The JSON schema of a job file."""
    found = JobIn.model_json_schema()
    found["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    return found


def flat(
    parts: list[PartIn], parent: str | None = None, path: str = ""
) -> Iterator[tuple[PartInput, PartIn]]:
    """Every part with its place as its id: ``"1.3.2"``."""
    for number, part in enumerate(parts, 1):
        place = f"{path}{number}"
        yield PartInput(place, current_name(part.kind), parent, part.entries, part.name), part
        yield from flat(part.parts, place, f"{place}.")


def work(document: Any) -> dict[str, Any]:
    """A job's answers: ``ok``, ``problems`` of the file itself, and each part's own report with
    its place. Never raises for bad input."""
    try:
        job = JobIn.model_validate(document)
        code = _code(job)
    except ValidationError as error:
        return {
            "ok": False,
            "problems": [_said(item) for item in error.errors()[:MOST_SAID]],
            "parts": [],
        }
    except (NotCoveredError, ValueError) as error:
        return _refused(str(error))
    every = list(flat(job.parts))
    known = {item.name for item in job_kinds()}
    strange = next((p for p, _ in every if p.kind not in known), None)
    if strange:
        return _refused(
            f"no such kind: {strange.kind}; there are {', '.join(sorted(known))}", strange.id
        )
    deepest = max(every, key=lambda item: item[0].id.count("."))[0]
    if deepest.id.count(".") >= MOST_DEPTH:
        return _refused(f"a job is at most {MOST_DEPTH} parts deep", deepest.id)
    if len(every) > MOST_PARTS:
        return _refused(f"a job holds at most {MOST_PARTS} parts; here are {len(every)}")
    kinds = {part.id: part.kind for part, _ in every}
    holders = {item.name for item in job_kinds() if item.holds_parts}
    misplaced = next((w for p, _ in every if (w := _misplaced(p, kinds, holders))), None)
    if misplaced:
        return _refused(*misplaced)
    asked = job.drop
    limits = Limits(asked.scheme, asked.branch, asked.total, asked.sizing, asked.method)
    prices = tuple(sorted(job.prices.items()))
    shop = Shop(job.devices, prices, job.basis, tuple(job.stock), job.reserve / 100)
    units = job.units or code_of(code.family).units
    found = calculate_job([part for part, _ in every], code, units, shop, limits)
    band = limits.supply_band(code)
    parts = [
        {
            "place": part.id,
            "kind": part.kind,
            "name": part.name,
            **_answer(found[part.id], given, band),
        }
        for part, given in every
    ]
    return {
        "ok": all(part["ok"] for part in parts),
        "problems": [],
        "name": job.name,
        "code": code.id,
        "units": units,
        "parts": parts,
    }


def _misplaced(
    part: PartInput, kinds: Mapping[str, str], holders: Set[str]
) -> tuple[str, str] | None:
    """Why a part may not stand where it does, and its place; ``None`` where it may."""
    if part.parent is None:
        return (
            None
            if kind(part.kind).root
            else ("a job begins with its supplies: put this part under one", part.id)
        )
    if kind(part.kind).root:
        return "a supply stands under nothing", part.id
    if kinds[part.parent] not in holders:
        return f"a {kinds[part.parent]} holds no other parts", part.id
    return None


def _code(job: JobIn) -> Edition:
    try:
        base = code_edition(job.code)
    except NotCoveredError:
        known = ", ".join(item.id for item in editions())
        raise ValueError(f"no such code: {job.code}; there are {known}") from None
    return base.with_amendments(
        Amendment(a.topic, a.row, a.column, a.value, a.jurisdiction, a.reason)
        for a in job.amendments
    )


def _answer(evaluated: Evaluated, given: PartIn, band: tuple[float, float]) -> dict[str, Any]:
    """A part's report, with its headline and what was measured there."""
    found = report(evaluated)
    worked = evaluated.report
    found["headline"] = worked.headline if worked else ""
    if given.readings:
        compared = [
            compare(r.point, r.unit, r.value, worked.points if worked else (), band)
            for r in given.readings
        ]
        found["readings"] = [
            {
                "point": c.point,
                "unit": c.unit,
                "measured": c.value,
                "calculated": c.expected,
                "allowed": c.allowed,
                "verdict": c.verdict,
            }
            for c in compared
        ]
        found["causes"] = [
            {"name": c.name, "score": c.score, "words": str(c.words), "look": str(c.look)}
            for c in causes(compared)
        ]
    return found


def _refused(words: str, place: str = "") -> dict[str, Any]:
    return {"ok": False, "problems": [{"entry": place, "words": words}], "parts": []}


def _said(error: Any) -> dict[str, str]:
    return {"entry": ".".join(str(x) for x in error["loc"]), "words": error["msg"]}


def main(arguments: list[str] | None = None) -> int:
    """Runs the command. 0: every part is worked; 1: some has problems, and nothing else needs its
    result; 2: the call has; 3: parts are incomplete, since results that they need are missing."""
    parser = argparse.ArgumentParser(prog="voltaje job", description=__doc__)
    parser.add_argument("file", nargs="?", help="JSON file of a job, or - for standard input")
    parser.add_argument("--schema", action="store_true", help="JSON schema of the file")
    given = parser.parse_args(arguments)
    if given.schema:
        entries = {item.name: schema(item.entries) for item in job_kinds()}
        write_json({**job_schema(), "x-entries": entries})
        return OK
    if given.file is None:
        return refuse("job", "which job? give a JSON file, or - for standard input")
    try:
        document = read_json(given.file)
    except UnreadableFileError as error:
        return refuse("job", str(error))
    found = work(document)
    write_json(found)
    if any(part.get("missing") for part in found["parts"]):
        return INCOMPLETE
    return OK if found["ok"] else BAD_ENTRIES if found["parts"] else BAD_CALL


if __name__ == "__main__":
    import sys

    sys.exit(main())
