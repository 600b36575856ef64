"""The device ahead of an autotransformer (450.4), in numbers and on the worksheet."""

from __future__ import annotations

from dataclasses import dataclass

from voltaje.core.codes import Cell, Edition
from voltaje.core.report import Findings, Result, Section, Worksheet, figure, fits, say
from voltaje.core.rules.north_america.overcurrent import next_standard_device
from voltaje.core.rules.north_america.transformers import ratings_with_fuses


@dataclass(frozen=True, slots=True)
class InputDevice:
    """The input device, A: the full-load ``input``, ``most`` by the rule with its ``percent``,
    whether the next size up was taken, and the standard ``size`` that carries the load: below 9 A
    the largest fuse not above the limit (``None``: no standard one carries the load there)."""

    input: float
    percent: Cell
    exact: float
    most: float
    next_size: bool
    size: float | None
    nine: Cell


def autotransformer_device(full: float, load: float, edition: Edition) -> InputDevice:
    """By the ``full``-load input current and that of the ``load``, A: 125 %, the next standard size
    up at 9 A and more, 167 % below (450.4(A)). Raises ``NotCoveredError``."""
    nine = edition.limit("autotransformer_nine")
    large = fits(nine.value, full)
    percent = edition.limit("autotransformer_percent" if large else "autotransformer_small")
    exact = full * percent.value / 100
    if large:
        up = next_standard_device(exact, edition).value
        size = min(next_standard_device(load, edition).value, up)
        return InputDevice(full, percent, exact, up, not fits(up, exact), size, nine)
    # only fuses are as small as that; the largest rides through the inrush best
    below = [r for r in ratings_with_fuses(edition) if fits(load, r) and fits(r, exact)]
    return InputDevice(full, percent, exact, exact, False, max(below, default=None), nine)


def report_device(device: InputDevice, edition: Edition) -> Section:
    """The device ahead on the worksheet."""
    worksheet, rule = Worksheet("device"), edition.rule("autotransformer_device")
    words = say("Input current at all that it delivers")
    worksheet.step("rated_input", words, device.input, "A")
    worksheet.step(
        "device_exact",
        say("Device, {percent} %", percent=device.percent.value),
        device.exact,
        "A",
        f"{figure(device.input)} × {figure(device.percent.value / 100, 4)}",
        (device.percent.rule, device.nine.rule),
    )
    words = say("At most, the next standard size") if device.next_size else say("At most")
    worksheet.sum("maximum_device", words, device.most, "A", "", rule)
    words = say("Device in each ungrounded input conductor")
    note = say("the standard size that carries the load")
    if device.size is None:
        worksheet.note(
            "device", words, note=say("no standard fuse carries the load and is small enough")
        )
        return worksheet.section("device", say("Device ahead"))
    if not fits(device.nine.value, device.input):
        note = say("the largest standard fuse that is not above it")
    worksheet.result("device", words, device.size, "A", "", rule, note=note)
    return worksheet.section("device", say("Device ahead"))


def device_result(device: InputDevice) -> dict[str, Result]:
    """The device among the results, where there is one."""
    if device.size is None:
        return {}
    return {"device": Result(device.size, "A", say("Device ahead"))}


def report_isolation(findings: Findings, edition: Edition) -> None:
    """What an autotransformer never does, and where it may stand at all (210.9, 215.11)."""
    findings.check(
        "isolates",
        say(
            "An autotransformer does not isolate: earth on one side is earth on the other, and an"
            " open common winding puts the source’s volts on the load."
        ),
        rules=(edition.cites("autotransformer_circuit"), edition.cites("autotransformer_feeder")),
    )
