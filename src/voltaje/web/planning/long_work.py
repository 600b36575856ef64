"""The long work of planning: a balance and the conductors of a tree, as questions and answers that
can be kept."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict
from typing import Any

from django.utils.translation import gettext

from voltaje.core.electrical.balance import (
    OBJECTIVES,
    Answer,
    BalanceTask,
    ConflictError,
    Objective,
    Work,
    curve,
    solve,
    work_of,
)
from voltaje.core.job import conductor_plan
from voltaje.core.job.spread import Spread, gather
from voltaje.core.kinds import Evaluated
from voltaje.core.report import figure
from voltaje.web.background.work import Answered, Asked, LongWork, register
from voltaje.web.jobs.models import Job
from voltaje.web.jobs.worked import work_job

UNITS: Mapping[Objective, str] = {"deviation": "%", "neutral": "A", "heaviest": "A", "lost": "%"}
USUAL = 5  # no code figure: s of effort of a balance
BEST = 0.35  # no code figure: the share of it that the best spread may take
PLAN = 60.0  # no code figure: s of effort of the conductors of a tree


# a balance ----------------------------------------------------------------------------------------


def task_of(spread: Spread, question: Mapping[str, Any]) -> tuple[BalanceTask | None, str]:
    """The task that is asked for, and the words of a conflict: its pins are left out then."""
    weights, by_sum = question["weights"], question["by_sum"]
    try:
        return spread.task(question["pins"], weights, by_sum), ""
    except ConflictError as error:
        try:
            return spread.task((), weights, by_sum), str(error)
        except ConflictError:
            return None, str(error)


def objective_of(task: BalanceTask, question: Mapping[str, Any]) -> Objective:
    """What is to be made small, of what the task can be asked for."""
    return next((name for name in task.objectives if name == question["objective"]), "deviation")


def kept(answer: Answer) -> dict[str, Any]:
    """An answer as it is kept."""
    return {**asdict(answer), "lines": dict(answer.lines)}


def found(result: Mapping[str, Any]) -> tuple[Answer, list[Work]]:
    """The best spread and what each number of moves reaches, of a result; the works without their
    steps, see :func:`with_steps`."""
    works = [Work(one["moves"], Answer(**one["answer"]), ()) for one in result["works"]]
    return Answer(**result["best"]), works


def with_steps(task: BalanceTask, work: Work) -> Work:
    """A number of moves with its work step by step."""
    return Work(work.moves, work.answer, work_of(task, work.answer.lines))


def _balance(asked: Asked) -> Answered:
    """The best spread, then the curve of moves. Whole: it is proven and the curve is complete, or
    nothing is to be spread."""
    job, question, effort = asked.job, asked.question, asked.effort
    spread = gather(job.inputs(), work_job(job), question["part"])
    task = task_of(spread, question)[0] if spread else None
    if task is None:
        return Answered(None)
    objective = objective_of(task, question)
    works: list[Work] = []

    def told(best: Answer) -> None:
        answer = {
            "best": kept(best),
            "works": [_kept_work(work) for work in works],
            "complete": False,
        }
        told = {
            "share": effort.share,
            "best": best.value,
            "bound": best.bound,
            "unit": UNITS[objective],
            "moves": works[-1].moves if works else 0,
        }
        asked.progress(told, answer)

    best = solve(task, objective, effort.at_most(effort.left * BEST), better=told)
    told(best)
    for work in curve(task, objective, effort, best=best):
        works.append(work)
        told(best)
    complete = effort.left > 0
    answer = {
        "best": kept(best),
        "works": [_kept_work(work) for work in works],
        "complete": complete,
    }
    return Answered(answer, best.proven and complete)


def _kept_work(work: Work) -> dict[str, Any]:
    return {"moves": work.moves, "answer": kept(work.answer)}


def _balance_words(progress: Mapping[str, Any]) -> str:
    figures = {name: figure(float(progress[name]), 1) for name in ("best", "bound")}
    if progress["moves"]:
        return gettext("Best assignment with {moves} moves found; optimum {best} {unit}.").format(
            moves=progress["moves"], unit=progress["unit"], best=figures["best"]
        )
    return gettext("Best so far {best} {unit}; no assignment is below {bound} {unit}.").format(
        unit=progress["unit"], **figures
    )


BALANCE = register(
    LongWork(
        "balance", _balance, lambda question: float(question.get("seconds", USUAL)), _balance_words
    )
)


def balance_question(
    part: str,
    objective: str,
    pins: Sequence[str],
    weights: Mapping[str, float],
    by_sum: bool,
    seconds: int,
) -> dict[str, Any]:
    """What a balance is asked. ``objective`` is one of those that there are, else the deviation."""
    wanted = objective if objective in OBJECTIVES else "deviation"
    return {
        "part": part,
        "objective": wanted,
        "pins": sorted(pins),
        "weights": dict(weights),
        "by_sum": by_sum,
        "seconds": seconds,
    }


# conductors chosen together -----------------------------------------------------------------------


def worked_with(
    job: Job, tree: conductor_plan.PlanTree, plan: conductor_plan.Plan
) -> Mapping[str, Evaluated]:
    """The job with the conductors of a plan."""
    by_id = {str(one.pk): one for one in job.loaded()}
    changed = {
        member.key: {**by_id[member.key].entries, member.entry: plan.chosen[member.key].value}
        for member in tree.members
        if plan.chosen[member.key] != member.now
    }
    return work_job(job, changed)


def lost_by(found: Mapping[str, Evaluated], tree: conductor_plan.PlanTree) -> dict[str, float]:
    """Percent lost to each load, by the job's network."""
    return {
        way.load: volts.drop_total
        for way in tree.ways
        if (volts := found[way.load].volts) is not None and volts.drop_total is not None
    }


def _conductors(asked: Asked) -> Answered:
    """All conductors below a part, chosen together and part by part."""
    job, effort = asked.job, asked.effort
    tree = conductor_plan.gather(
        job.inputs(),
        work_job(job),
        asked.question["part"],
        effort,
        lambda share: asked.progress({"share": 0.8 * share}, None),
    )
    result: dict[str, Any] = {
        "missing": list(tree.missing),
        "without": list(tree.without),
        "priced": tree.priced,
        "members": [],
    }
    if not tree.members:
        return Answered(result)
    aim: conductor_plan.Aim = (
        "money" if asked.question["aim"] == "money" and tree.priced else "metal"
    )
    alone = conductor_plan.part_by_part(tree, aim)
    seen: dict[str, float] = {}  # what the network says of the last plan

    def judge(plan: conductor_plan.Plan) -> Mapping[str, float]:
        effort.check()
        asked.progress({"share": 0.9}, None)
        seen.clear()
        seen.update(lost_by(worked_with(job, tree, plan), tree))
        return seen

    best = conductor_plan.settled(tree, aim, judge, effort)
    standing = [m.now.costs(aim) for m in tree.members if m.now is not None]
    result |= {
        "aim": aim,
        "members": [_kept_member(member, alone, best) for member in tree.members],
        "totals": {
            "now": {
                "cost": sum(standing) if len(standing) == len(tree.members) else None,
                "lost": _most(lost_by(work_job(job), tree)),
                "unmet": [],
            },
            "alone": {
                "cost": alone.costs(aim),
                "lost": _most(lost_by(worked_with(job, tree, alone), tree)),
                "unmet": list(alone.unmet),
            },
            "together": {
                "cost": best.costs(aim),
                "lost": _most(seen),
                "unmet": list(best.unmet),
            },
        },
        "proven": best.proven,
    }
    return Answered(result)


def _kept_member(
    member: conductor_plan.Member, alone: conductor_plan.Plan, best: conductor_plan.Plan
) -> dict[str, Any]:
    chosen = best.chosen[member.key]
    return {
        "key": member.key,
        "name": member.name,
        "entry": member.entry,
        "now": member.now.conductor if member.now else None,
        "alone": alone.chosen[member.key].conductor,
        "together": chosen.conductor,
        "value": chosen.value,
        "lost": chosen.lost,
        "changes": chosen != member.now,
    }


def _most(lost: Mapping[str, float]) -> float | None:
    """The most that any load loses from the supply on, percent."""
    return max(lost.values()) if lost else None


def _conductor_words(progress: Mapping[str, Any]) -> str:
    if progress["share"] < 0.8:
        return gettext("Trying each conductor size.")
    return gettext("Checking the choice against the voltages of the job.")


CONDUCTORS = register(LongWork("conductors", _conductors, lambda _: PLAN, _conductor_words))
