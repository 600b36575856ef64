"""Where each millisecond of a load goes: processor time of the pages' processes by route, of the
worker, of PostgreSQL and of what makes the load. ``./voltaje bench load`` asks it before and after.
"""

import json
import os
import sys
from pathlib import Path

TICKS = os.sysconf("SC_CLK_TCK")


def processor(pid):
    """s of processor time of a process, its children that have ended, and those that live."""
    fields = Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()
    own = sum(int(value) for value in fields[11:15]) / TICKS
    children = Path(f"/proc/{pid}/task/{pid}/children").read_text().split()
    return own + sum(processor(child) for child in children if Path(f"/proc/{child}").exists())


def figures():
    """What the processes have measured so far."""
    from prometheus_client import CollectorRegistry, generate_latest
    from prometheus_client.multiprocess import MultiProcessCollector

    registry = CollectorRegistry()
    MultiProcessCollector(registry)
    lines = generate_latest(registry).decode().splitlines()
    rows = (line.rsplit(" ", 1) for line in lines if line and line[0] != "#")
    return {name: float(value) for name, value in rows}


def now(pids):
    """All of it at this moment."""
    return {"figures": figures(), "processor": {n: processor(pid) for n, pid in pids.items()}}


def told(before, after, seconds):
    """A line for each route and each program."""
    counts, cpu = {}, {}
    for name, value in after["figures"].items():
        value -= before["figures"].get(name, 0.0)
        route = name.partition('route="')[2].partition('"')[0]
        if name.startswith("voltaje_request_seconds_count"):
            counts[route] = counts.get(route, 0) + value
        elif name.startswith("voltaje_request_processor_seconds_total"):
            cpu[route] = value
    yield f"{'route':<28}{'requests':>10}{'ms each':>10}{'% of a core':>13}"
    for route in sorted(cpu, key=lambda one: -cpu[one]):
        if counts.get(route):
            each, share = 1000 * cpu[route] / counts[route], 100 * cpu[route] / seconds
            yield f"{route or 'no route':<28}{counts[route]:>10.0f}{each:>10.1f}{share:>13.1f}"
    used = {n: after["processor"][n] - before["processor"][n] for n in after["processor"]}
    used["pages, around their views"] = used.pop("pages") - sum(cpu.values())
    for name, value in used.items():
        yield f"{name:<48}{100 * value / seconds:>13.1f}"


if __name__ == "__main__":
    known, file, *rest = json.loads(sys.argv[1]), Path(sys.argv[2]), *sys.argv[3:]
    if rest:
        print(*told(json.loads(file.read_text()), now(known), float(rest[0])), sep="\n")
    else:
        file.write_text(json.dumps(now(known)))
