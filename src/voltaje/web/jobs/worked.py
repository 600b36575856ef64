"""A job's parts, worked under its code, its amendments and its habits."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Any

from voltaje.core.entries import Document
from voltaje.core.parts import Evaluated
from voltaje.core.parts import kind as find_kind
from voltaje.core.study import study
from voltaje.core.worksheet import Finding, Severity, worst
from voltaje.web.jobs.models import Job, Part


def work_job(job: Job, changed: Mapping[str, Document] | None = None) -> dict[str, Evaluated]:
    """Every part of the job by its id; ``changed`` holds entries that are not kept yet."""
    changed = changed or {}
    inputs = [
        replace(item, document=changed[item.id]) if item.id in changed else item
        for item in job.inputs()
    ]
    return study(inputs, job.code(), job.units, job.shop(), job.limits())


@dataclass
class Node:
    """A part in the tree as a page shows it."""

    part: Part
    head: str
    status: str
    depth: int
    holds_parts: bool
    label: str
    children: list[Node] = field(default_factory=list)

    def flat(self) -> list[Node]:
        """This one and all below it, in the order of the page."""
        return [self, *(node for child in self.children for node in child.flat())]


def tree(job: Job, found: Mapping[str, Evaluated]) -> list[Node]:
    """The job's parts as a tree, each with its one-line answer and its status."""
    by_parent: dict[Any, list[Part]] = {}
    for part in job.loaded():
        by_parent.setdefault(part.parent_id, []).append(part)

    def under(parent: Any, depth: int) -> list[Node]:
        nodes = []
        for part in by_parent.get(parent, []):
            worked = found[str(part.pk)].worked
            of = find_kind(part.kind)
            nodes.append(
                Node(part, worked.headline if worked else "", worked.status if worked else "empty",
                     depth, of.holds_parts, of.label, under(part.pk, depth + 1))
            )  # fmt: skip
        return nodes

    return under(None, 0)


def findings(
    job: Job, nodes: list[Node], found: Mapping[str, Evaluated]
) -> list[tuple[Node, Finding | None, str]]:
    """What fails and what deserves a look in the whole job, the worst first; a part that cannot
    be worked yet comes with the words of its first problem and without a finding."""
    order: dict[Severity, int] = {"fails": 0, "look": 2, "holds": 3}
    listed: list[tuple[int, Node, Finding | None, str]] = []
    for node in (n for top in nodes for n in top.flat()):
        evaluated = found[str(node.part.pk)]
        if evaluated.worked is None:
            words = evaluated.problems[0].words if evaluated.problems else ""
            listed.append((1, node, None, words))
            continue
        listed += [
            (order[f.severity], node, f, "")
            for f in evaluated.worked.findings
            if f.severity != "holds"
        ]
    listed.sort(key=lambda item: item[0])
    return [(node, finding, words) for _, node, finding, words in listed]


def status_of(nodes: list[Node]) -> Severity:
    """The worst status of all parts that are worked."""
    return worst(
        n.status  # type: ignore[misc]
        for top in nodes
        for n in top.flat()
        if n.status != "empty"
    )
