"""Mixed-integer programs, solved by HiGHS: the least cost over columns between bounds, some of them
whole, under rows that are sums of columns between two limits."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from math import inf
from typing import TYPE_CHECKING, Any, Literal

from voltaje.core.effort import Effort

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    Values = NDArray[np.float64]

# Coefficients by column, the least and the most that their sum may be.
Row = tuple[Mapping[int, float], float, float]

# no code figures: s of effort of a program and of one step of it, by itself and for each
# coefficient, as they were measured
BEGIN, BEGIN_EACH, STEP, STEP_EACH = 0.005, 4e-5, 4e-4, 6e-7
# no code figures: s by the clock of any program, more for each s of effort, and at most
PATIENCE, SLOWEST, MOST = 5.0, 5.0, 600.0


@dataclass(frozen=True, slots=True)
class Solution:
    """``values`` of the columns (``None``: none were found), what no solution is below, and how it
    ended: ``cut short`` is a search that ran out of effort."""

    values: Values | None
    bound: float
    ended: Literal["optimal", "infeasible", "cut short"]


def minimize(
    cost: Sequence[float],
    rows: Sequence[Row],
    effort: Effort,
    *,
    whole: Callable[[int], bool] = lambda _: True,
    upper: Callable[[int], float] = lambda _: 1.0,
    lower: Callable[[int], float] = lambda _: 0.0,
    gap: float = 0.0,
    better: Callable[[Values, float], None] | None = None,
) -> Solution:
    """The columns with the least cost; within ``gap`` (relative) of it counts as found. ``better``
    is told each better solution on the way, with the bound so far."""
    import highspy
    import numpy as np

    class Quiet(highspy.Highs):
        """Says nothing of itself, from the first on."""

        def enableCallbacks(self) -> Any:  # noqa: N802 - the solver's own name
            self.setOptionValue("output_flag", False)
            return super().enableCallbacks()  # type: ignore[no-untyped-call]

    width = len(cost)
    coefficients = sum(len(row) for row, _, _ in rows)
    effort.spend(BEGIN + BEGIN_EACH * coefficients)
    if not effort.left:
        return Solution(None, -inf, "cut short")
    solver = Quiet()  # type: ignore[no-untyped-call]
    for name, value in (
        ("threads", 1),
        ("parallel", "off"),
        ("mip_rel_gap", gap),
        # large programs take long between two steps: by the clock it is ended only far beyond
        ("time_limit", min(PATIENCE + SLOWEST * effort.left, MOST)),
    ):
        solver.setOptionValue(name, value)
    solver.passModel(_model(cost, rows, whole, upper, lower))
    step = STEP + STEP_EACH * coefficients

    def each_step(event: Any) -> None:
        effort.spend(step)
        if not effort.left:
            event.data_in.user_interrupt = True

    def each_better(event: Any) -> None:
        found = event.data_out
        if better is not None:
            better(np.array(found.mip_solution)[:width], float(found.mip_dual_bound))

    solver.cbMipInterrupt += each_step
    if better is not None:
        solver.cbMipImprovingSolution += each_better
    solver.run()
    status, info = solver.getModelStatus(), solver.getInfo()
    known = highspy.SolutionStatus.kSolutionStatusFeasible
    values = None
    if info.primal_solution_status == known:
        values = np.array(solver.getSolution().col_value)
    bound = float(info.mip_dual_bound)
    if status == highspy.HighsModelStatus.kInfeasible:
        return Solution(None, inf, "infeasible")
    optimal = status == highspy.HighsModelStatus.kOptimal
    return Solution(values, bound, "optimal" if optimal else "cut short")


def _model(
    cost: Sequence[float],
    rows: Sequence[Row],
    whole: Callable[[int], bool],
    upper: Callable[[int], float],
    lower: Callable[[int], float],
) -> Any:
    import highspy
    import numpy as np

    width = len(cost)
    kinds = highspy.HighsVarType
    model = highspy.HighsLp()
    model.num_col_, model.num_row_ = width, len(rows)
    model.col_cost_ = np.array(cost, dtype=float)
    model.col_lower_ = np.array([lower(i) for i in range(width)], dtype=float)
    model.col_upper_ = np.array([upper(i) for i in range(width)], dtype=float)
    model.row_lower_ = np.array([low for _, low, _ in rows], dtype=float)
    model.row_upper_ = np.array([high for _, _, high in rows], dtype=float)
    starts = np.cumsum([0, *(len(row) for row, _, _ in rows)], dtype=np.int32)
    model.a_matrix_.format_ = highspy.MatrixFormat.kRowwise
    model.a_matrix_.start_ = starts
    model.a_matrix_.index_ = np.array([i for row, _, _ in rows for i in row], dtype=np.int32)
    model.a_matrix_.value_ = np.array([v for row, _, _ in rows for v in row.values()], dtype=float)
    model.integrality_ = [kinds.kInteger if whole(i) else kinds.kContinuous for i in range(width)]
    return model
