"""What a job's stock and reserve have done to a choice, in words: the same under every code."""

from __future__ import annotations

from math import isclose

from voltaje.core.report import Findings, figure, say
from voltaje.core.rules.settings import Shop


def tell_habit(
    shop: Shop, usual: tuple[float, str], taken: tuple[float, str], findings: Findings
) -> None:
    """A remark where another pair would be taken without them, a check where the device is not in
    stock: ``usual`` and ``taken`` are a device, A, and its conductors."""
    device, conductor = usual
    if usual != taken:
        words = say(
            "Without the job’s stock and reserve the choice would be {device} A with {conductor}.",
            device=figure(device),
            conductor=conductor,
        )
        findings.remark("habit", words)
    if shop.stock and not any(isclose(taken[0], one) for one in shop.stock):
        rating = figure(taken[0])
        words = say("No device in stock passes: {device} A is not in stock.", device=rating)
        findings.check("stock", words, mend=say("Order it, or change the stock in the settings."))
