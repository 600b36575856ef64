"""A worksheet as plain values, ready for ``json.dumps``."""

from __future__ import annotations

from cmath import phase
from math import degrees
from typing import Any

from voltaje.core.report.sheet import Report, Rule, WorksheetLine


def to_json(worked: Report) -> dict[str, Any]:
    """Plain dicts, lists, strings and numbers, ready for ``json.dumps``."""
    return {
        "kind": worked.kind,
        "code": worked.edition,
        "status": worked.status,
        "missing": list(worked.missing),
        "results": {
            name: {
                "value": r.value,
                "unit": r.unit,
                "label": str(r.label),
                **({"at_least": True} if r.at_least else {}),
            }
            for name, r in worked.results.items()
        },
        "sections": [
            {
                "name": section.name,
                "title": str(section.title),
                "lines": [_line_json(line) for line in section.lines],
            }
            for section in worked.sections
        ],
        "findings": [
            {
                "severity": f.severity,
                "name": f.name,
                "words": str(f.words),
                "amount": f.amount,
                "remedy": str(f.remedy) if f.remedy else "",
                "rules": [_rule_json(rule) for rule in f.rules],
                "entries": list(f.entries),
                **(
                    {"accepted": {"by": f.accepted.by, "reason": f.accepted.reason}}
                    if f.accepted
                    else {}
                ),
            }
            for f in worked.findings
        ],
        "methods": [
            {
                "name": a.name,
                "label": str(a.label),
                "value": a.value,
                "unit": a.unit,
                "chosen": a.chosen,
                "permitted": a.permitted,
                "why": str(a.why),
            }
            for a in worked.methods
        ],
        "alternatives": [
            {
                "device": one.device,
                "size": one.size,
                "sets": one.sets,
                "metal": one.material,
                "conductor": one.conductor,
                "ampacity": one.ampacity,
                "passes": one.passes,
                "check": one.check,
                "chosen": one.chosen,
                "why": str(one.why),
                "rules": [_rule_json(rule) for rule in one.rules],
                "kg_per_m": round(one.mass, 4),
                "price_per_m": one.price,
                "group": one.group,
            }
            for one in worked.alternatives
        ],
        "wires": [
            {"role": wire.role, "color": wire.color, "size": wire.size} for wire in worked.wires
        ],
        "points": [
            {
                "name": point.name,
                "label": str(point.label),
                "value": point.value,
                "unit": point.unit,
                "degrees": degrees(phase(point.phasor)) if point.phasor else 0.0,
                "open": point.open,
            }
            for point in worked.points
        ],
        "tests": [
            {
                "name": test.name,
                "label": str(test.label),
                "value": test.value,
                "unit": test.unit,
                "limit": test.limit,
                "at_most": test.most,
                "rule": _rule_json(test.rule),
            }
            for test in worked.tests
        ],
    }


def _rule_json(rule: Rule) -> dict[str, Any]:
    return {
        "code": rule.edition,
        "topic": rule.topic,
        "cite": rule.cite,
        "row": rule.row,
        "column": rule.column,
        "amended": rule.amended,
    }


def _line_json(line: WorksheetLine) -> dict[str, Any]:
    return {
        "name": line.name,
        "label": str(line.label),
        "expression": line.expression,
        "value": line.value,
        "unit": line.unit,
        "rules": [_rule_json(rule) for rule in line.rules],
        "rounding": str(line.rounding) if line.rounding else "",
        "note": str(line.note) if line.note else "",
        "entries": list(line.entries),
        "kind": line.kind,
    }
