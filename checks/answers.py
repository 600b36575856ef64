"""Whether two states of the program give the same answers, line by line and word by word.

    python checks/answers.py record CASES [pytest arguments]   what the tests of the core work, and
                                                              the demo's jobs under every edition
    python checks/answers.py work CASES ANSWERS               each case worked by this tree
    python checks/answers.py compare ONE OTHER                where two files of answers differ

Record once, work the cases in both trees (``git worktree``), compare. A change of the plan must
leave no difference; a change of an answer shows what else it touched.
"""

from __future__ import annotations

import contextlib
import csv
import json
import sys
from collections.abc import Mapping
from dataclasses import asdict, fields
from functools import cache
from importlib import import_module
from itertools import zip_longest
from pathlib import Path
from typing import Any

HERE = Path(__file__).parent.parent
sys.path[:0] = [str(HERE / "src"), str(HERE / "tests")]

MOST_SHOWN = 20
LAST = ("entry", "result")  # rows of docs/renamed.csv that are told by their last step
PATHS = ("entry", "path")  # keys whose value is the path of an entry
NAMES = ("kind", "status", "severity", "verdict")  # keys whose values docs/renamed.csv lists
_CASES: dict[str, None] = {}
_depth = 0


def _plain(context: Any) -> dict[str, Any]:
    """A context as JSON: what it takes to make it again."""
    code, supply = context.edition, context.supply
    return {
        "edition": code.id,
        "amendments": [asdict(a) for a in getattr(code, "amendments", ())],
        "units": context.units,
        "supply": {
            "system": supply.system.id,
            "volts": supply.volts,
            "hertz": supply.hertz,
            "fault": supply.fault,
            "marking": list(supply.marking),
            "lost": supply.upstream_drop,
            "earthing": supply.earthing,
            "loop": supply.loop_impedance,
            "private": supply.private,
            "xr": supply.xr,
            "motor_times": supply.motor_times,
        },
        "below": {
            "connected": context.below.connected,
            "calculated": context.below.calculated,
            "neutral": context.below.neutral,
            "lines": list(context.below.lines),
            "pieces": [asdict(p) for p in context.below.pieces],
        },
        "shop": {
            "preference": context.shop.preference,
            "prices": [list(p) for p in context.shop.prices],
        },
        "limits": asdict(context.limits),
    }


def _note(case: dict[str, Any]) -> None:
    with contextlib.suppress(TypeError, ValueError):  # what is no JSON is no document
        _CASES[json.dumps(case, sort_keys=True)] = None


def _hook() -> None:
    """Notes what the tests ask of ``evaluate`` and ``calculate_job``, the inner calls left out."""
    from voltaje.core import kinds as package

    kinds: Any = import_module("voltaje.core.kinds.interface")
    plain_evaluate = kinds.evaluate

    def evaluate(of: Any, document: Any, context: Any) -> Any:
        if not _depth:
            _note({"one": of.name, "document": document, "context": _plain(context)})
        return plain_evaluate(of, document, context)

    kinds.evaluate = package.evaluate = evaluate
    from voltaje.core.job import calculate as studies

    plain_study = studies.calculate_job

    def calculate_job(
        given: Any,
        edition: Any,
        units: Any = "us",
        shop: Any = None,
        limits: Any = None,
        **more: Any,
    ) -> Any:
        global _depth
        base = kinds.Context(edition, units)
        base = kinds.Context(edition, units, shop=shop or base.shop, limits=limits or base.limits)
        _note({"job": [asdict(p) for p in given], "context": _plain(base)})
        _depth += 1
        try:
            return plain_study(given, edition, units, shop, limits, **more)
        finally:
            _depth -= 1

    studies.calculate_job = calculate_job


def _demo() -> None:
    """The demo's jobs, and each of their parts' documents, under every edition and both units."""
    from voltaje.core.codes import editions
    from voltaje.core.kinds import Context
    from voltaje.web.jobs import demo, demo_quay

    def put(planted: Any, parent: str | None, found: list[Any]) -> None:
        of, name, entries, under = planted
        mine = f"p{len(found)}"
        found.append({"id": mine, "kind": of, "parent": parent, "document": entries, "name": name})
        for child in under:
            put(child, mine, found)

    def planted(module: Any) -> list[Any]:
        found = [getattr(module, name) for name in dir(module)]
        return [p for p in found if isinstance(p, tuple) and len(p) == 4 and isinstance(p[2], dict)]

    mill = ("3ph-480Y/277", "3ph-208Y/120", "1ph-120/240")
    for module, systems in ((demo, mill), (demo_quay, ("3ph-400Y/230", *mill[2:]))):
        for tree in planted(module):
            for system in systems:
                found: list[Any] = [
                    {
                        "id": "s",
                        "kind": "supply",
                        "parent": None,
                        "name": "S",
                        "document": {"system": system, "fault": "22 kA"},
                    }
                ]
                if tree[0] == "supply":  # it brings its own and stands under nothing
                    found = []
                put(tree, "s" if found else None, found)
                for code in editions():
                    for units in ("us", "metric"):
                        for sizing in ("told", "total"):
                            plain = _plain(Context(code, units))  # type: ignore[arg-type]
                            plain["limits"]["sizing"] = sizing
                            _note({"job": found, "context": plain})


def record(out: str, arguments: list[str]) -> int:
    import pytest

    _hook()
    code = pytest.main(["-p", "no:randomly", "-q", *(arguments or ["tests/core"])])
    _demo()
    Path(out).write_text("\n".join(_CASES) + "\n", encoding="utf-8")
    print(f"{len(_CASES)} cases")
    return int(code)


def _context(plain: dict[str, Any]) -> Any:
    from voltaje.core.codes import Amendment, amended
    from voltaje.core.electrical.systems import SYSTEMS, Demand, Piece, SupplyPoint
    from voltaje.core.kinds import Context
    from voltaje.core.rules.settings import Limits, Shop

    known = {f.name for f in fields(Piece)}
    supply, below, shop = plain["supply"], plain["below"], plain["shop"]
    return Context(
        amended(plain["edition"], tuple(Amendment(**a) for a in plain["amendments"])),
        plain["units"],
        SupplyPoint(
            SYSTEMS[supply["system"]],
            supply["volts"],
            supply["hertz"],
            supply["fault"],
            tuple(supply["marking"]),
            upstream_drop=supply["lost"],
            earthing=supply["earthing"],
            loop_impedance=supply["loop"],
            private=supply["private"],
            xr=supply["xr"],
            motor_times=supply["motor_times"],
        ),
        Demand(
            below["connected"],
            below["calculated"],
            below["neutral"],
            tuple(below["lines"]),
            tuple(Piece(**{k: v for k, v in p.items() if k in known}) for p in below["pieces"]),
        ),
        Shop(shop["preference"], tuple((n, p) for n, p in shop["prices"])),
        Limits(**plain["limits"]),
    )


def _answer(case: dict[str, Any]) -> Any:
    from voltaje.core.cli.sheet import report
    from voltaje.core.job.calculate import calculate_job
    from voltaje.core.kinds import PartInput, evaluate, kind

    def shown(found: Any) -> Any:
        head = found.report.headline if found.report else ""
        return {**report(found), "headline": head}

    context = _context(case["context"])
    try:
        if "one" in case:
            return shown(evaluate(kind(case["one"]), case["document"], context))
        given = [PartInput(**p) for p in case["job"]]
        found = calculate_job(given, context.edition, context.units, context.shop, context.limits)
        return {key: shown(item) for key, item in found.items()}
    except (KeyError, ValueError) as error:
        return f"{type(error).__name__}: {error}"


def work(cases: str, out: str) -> int:
    with Path(out).open("w", encoding="utf-8") as file:
        for line in Path(cases).read_text(encoding="utf-8").splitlines():
            file.write(json.dumps(_answer(json.loads(line)), default=str) + "\n")
    return 0


@cache
def _renamed() -> dict[str, str]:
    with (HERE / "docs" / "renamed.csv").open(encoding="utf-8", newline="") as file:
        return {row["old"]: row["new"] for row in csv.DictReader(file) if row["what"] not in LAST}


@cache
def _last_steps(what: str) -> Mapping[str, frozenset[str]]:
    """The last step of the path of an entry or a result in an earlier version, and what it may be
    now."""
    found: dict[str, set[str]] = {}
    with (HERE / "docs" / "renamed.csv").open(encoding="utf-8", newline="") as file:
        for row in csv.DictReader(file):
            if row["what"] == what:
                old, new = row["old"].rsplit(".", 1)[-1], row["new"].rsplit(".", 1)[-1]
                found.setdefault(old, set()).add(new)
    return {old: frozenset(new) for old, new in found.items()}


def _result_now(name: str, results: Mapping[str, Any]) -> str:
    """The name of a result among others as it may be now."""
    if name in results:
        return name
    return next((now for now in _last_steps("result").get(name, ()) if now in results), name)


def _same(key: str, one: Any, other: Any) -> bool:
    """Whether two values of a key are one under the names of their versions."""
    if key in PATHS:
        return _same_path(one, other)
    return key == "name" and other in _last_steps("result").get(str(one), ())


def _same_path(one: Any, other: Any) -> bool:
    """Whether two texts are the path of one entry, in an earlier version and now."""
    if not isinstance(one, str) or not isinstance(other, str):
        return False
    steps = list(zip_longest(one.split("."), other.split("."), fillvalue=""))
    return all(old == new or new in _last_steps("entry").get(old, ()) for old, new in steps)


def _differences(one: Any, other: Any, path: str = "") -> list[str]:
    if isinstance(one, dict) and isinstance(other, dict):
        if path.endswith(".results"):
            one = {_result_now(name, other): value for name, value in one.items()}
        found = []
        for key in [*one, *(k for k in other if k not in one)]:
            at = f"{path}.{key}"
            if key not in one or key not in other:
                found.append(f"{at}: only in the {'first' if key in one else 'second'}")
            elif _same(key, one[key], other[key]):
                continue
            elif key in NAMES and _renamed().get(str(one[key])) == other[key]:
                continue  # the same under the name it has now
            else:
                found += _differences(one[key], other[key], at)
        return found
    if isinstance(one, list) and isinstance(other, list) and len(one) == len(other):
        if path.endswith(".entries") and all(map(_same_path, one, other)):
            return []
        return [
            d
            for i, (a, b) in enumerate(zip(one, other, strict=True))
            for d in _differences(a, b, f"{path}[{i}]")
        ]
    if isinstance(one, float) and isinstance(other, float):
        # the order of a sum may differ by the last digit
        return [] if abs(one - other) <= 1e-9 * max(1.0, abs(one)) else [f"{path}: {one} | {other}"]
    return [] if one == other else [f"{path}: {one!r:.300} | {other!r:.300}"]


def compare(one: str, other: str) -> int:
    first, second = (Path(p).read_text(encoding="utf-8").splitlines() for p in (one, other))
    unlike = 0
    if len(first) != len(second):
        print(f"{len(first)} answers in the first, {len(second)} in the second")
        return 1
    for number, (a, b) in enumerate(zip(first, second, strict=True)):
        if a == b:
            continue
        found = _differences(json.loads(a), json.loads(b))
        if not found:
            continue
        unlike += 1
        if unlike <= MOST_SHOWN:
            print(f"case {number}: " + "; ".join(found[:4]))
    print(f"{len(first)} answers, {unlike} differ")
    return 1 if unlike else 0


def main(arguments: list[str]) -> int:
    match arguments:
        case ["record", out, *rest]:
            return record(out, rest)
        case ["work", cases, out]:
            return work(cases, out)
        case ["compare", one, other]:
            return compare(one, other)
    print(__doc__)
    return 2


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
