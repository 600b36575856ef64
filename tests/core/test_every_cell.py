"""An amendment reaches every use of its figure: each cell is amended once, and a sheet must show it.

All cells of an edition are amended at once to what stands in them, each with words of its own; a
pool of sheets that spans the tables is worked, and the words of every cell must appear on some
line. Limits, which stand in running text, are amended one by one to another figure, and some
answer or line must change. Cells that no sheet reads are listed with the reason.
"""

import json
import re
from functools import cache, lru_cache

import pytest
from core.cec_pool import canadian
from core.metric_pool import cables
from profiles import sample

from voltaje.core.codes import Amendment, edition, editions
from voltaje.core.electrical.loads import CountedLoad, Household
from voltaje.core.electrical.systems import SYSTEMS, Demand, Piece, SupplyPoint
from voltaje.core.kinds import Context, evaluate, kind
from voltaje.core.report import to_json
from voltaje.core.rules.iec60364 import METRIC
from voltaje.core.rules.north_america.motors import horsepower_of

CODES = [code.id for code in editions()]
COLUMN_INSULATION = {"60": "TW", "75": "THW", "90": "THHN"}


def piece(name, category, va, **more):
    return Piece(name, category, va, va, va / 360, "three-phase", "all", **more)


def sheets(code):
    """(kind, document, system, pieces below) that between them read the tables of an edition."""
    if code.family in METRIC:
        yield from cables(code)
        return
    if code.family == "cec":
        yield from canadian(code)
        yield from boxes(code)
        yield from filled(code)
        return
    tables = code.table
    for many in (2, 3, *(int(row.split("-")[0].rstrip("+")) for row in
                         tables("dwellings_together").rows)):  # fmt: skip
        home = Household(
            4500, (), (), (), (), (CountedLoad("r", "Range", 9000, 37.5),), 5000, 0, True, True
        )
        yield "feeder", {}, "3ph-208Y/120", tuple(
            piece(f"d{i}", "dwelling", 12_000, household=home) for i in range(many))  # fmt: skip
    for volts in (222, 227, 231, 249, 253, 260):
        document = {"system": "1ph-120/240", "volts": f"{volts} V"}
        yield "supply", document, "1ph-120/240", ()
    for place in ("opposite", "anywhere"):
        for main in ("120 A", "175 A", "200 A"):
            yield "inverter", {"power": "20 kW", "bus": "200 A", "main": main,
                               "place": place}, "3ph-208Y/120", ()  # fmt: skip
    metals = ("copper", "aluminum")
    for size, cells in tables("ampacity").rows.items():
        for metal in metals:
            for column, insulation in COLUMN_INSULATION.items():
                if cells[f"{metal} {column}"]:
                    yield (
                        "circuit",
                        {
                            "load": "10 A",
                            "size": size,
                            "material": metal,
                            "terminals": "75",
                            "insulation": insulation,
                            "length": "10 ft",
                        },
                        "3ph-208Y/120",
                        (),
                    )
            for method in ("EMT", "PVC 40"):
                if cells[f"{metal} 60"]:
                    yield (
                        "circuit",
                        {
                            "load": "10 A",
                            "size": size,
                            "material": metal,
                            "method": method,
                            "insulation": "XHHW",
                            "length": "10 ft",
                        },
                        "3ph-208Y/120",
                        (),
                    )
    for size in tables("compact_areas").rows:
        for insulation in ("THHN", "XHHW", "THW"):
            yield (
                "circuit",
                {
                    "load": "10 A",
                    "size": size,
                    "material": "aluminum",
                    "compact": "yes",
                    "insulation": insulation,
                },
                "3ph-208Y/120",
                (),
            )
    for trade in range(len(tables("raceways").rows)):
        for method in ("EMT", "RMC", "PVC 40", "PVC 80"):
            for size in ("14", "6", "2/0", "500"):
                yield (
                    "circuit",
                    {"load": "10 A", "size": size, "method": method, "others": str(trade * 2)},
                    "3ph-208Y/120",
                    (),
                )
    for counted in (0, 2, 6, 12, 25, 35, 45):
        yield "circuit", {"load": "10 A", "others": str(counted)}, "3ph-208Y/120", ()
    for row in tables("ambient").rows:
        for insulation in COLUMN_INSULATION.values():
            yield (
                "circuit",
                {"load": "1 A", "ambient": row, "insulation": insulation},
                "3ph-208Y/120",
                (),
            )
    for device in (
        *tables("equipment_grounding").rows,
        *tables("standard_devices").column("A").values(),
    ):
        for metal in metals:
            yield "feeder", {"device": str(float(device)), "material": metal}, "3ph-480Y/277", (
                piece("x", "other", float(device) * 0.9 * 480 * 3**0.5),)  # fmt: skip
    for amperes in (8, 10, 14, 19, 24, 29, 38, 48):
        yield (
            "circuit",
            {"use": "sign", "load": "600 W", "required_sign": "yes"},
            "1ph-120/240",
            (),
        )
        for use in ("lighting", "general", "water heater", "sign"):
            for metal in metals:
                yield "circuit", {"use": use, "load": f"{amperes} A", "material": metal,
                                  "continuous": "no"}, "3ph-208Y/120", ()  # fmt: skip
        yield "circuit", {"use": "receptacles", "outlets": str(amperes)}, "1ph-120/240", ()
    for size in ("14", "12", "10"):
        for metal in metals:
            yield "circuit", {"load": "10 A", "size": size, "material": metal}, "1ph-120/240", ()
    yield from dwellings(tables)
    yield from motors(tables)
    yield from feeders(tables)
    yield from transformers(tables)
    for size in (*tables("conductor_properties").rows,):
        for metal in metals:
            yield "cable_run", {"segments": [{"nameplate": "10 A", "length": "100 ft"}], "size": size,
                          "material": metal}, "3ph-208Y/120", ()  # fmt: skip
            yield "cable_run", {"segments": [{"nameplate": "10 A", "length": "100 ft"}], "size": size,
                          "material": metal, "conductor_temperature": "40"}, "3ph-208Y/120", ()  # fmt: skip
    for size in tables("impedance").rows:
        for method in ("EMT", "PVC 40"):
            yield "circuit", {"load": "10 A", "size": size, "method": method, "length": "10 ft",
                              "power_factor": "0.8"}, "3ph-208Y/120", ()  # fmt: skip
    yield from filled(code)
    for length in ("20 ft", "200 ft", "400 ft"):
        yield (
            "service",
            {"rod": "yes", "length": length},
            "3ph-480Y/277",
            (piece("x", "other", 200_000),),
        )
    # in the last row, so that its end decides between it and a share of the area
    for va in (223_000, 252_000):
        for metal in metals:
            yield "service", {"rod": "yes", "material": metal}, "3ph-208Y/120", (
                piece("x", "other", va),)  # fmt: skip
    for layout in ("range", "oven", "cooktop"):
        yield "cooking", {"layout": layout, "nameplate": "12 kW"}, "1ph-120/240", ()
    yield "cooking", {"layout": "together", "cooktop": "8 kW", "oven_1": "5 kW"}, "1ph-120/240", ()
    for va in (90_000, 200_000, 260_000, 300_000, 400_000, 600_000, 900_000, 1_400_000, 2_400_000):
        for metal in metals:
            yield "service", {"water_pipe": "yes", "steel": "yes", "concrete": "yes", "rod": "yes",
                              "ring": "yes", "raceways": "one", "material": metal}, "3ph-480Y/277", (
                piece("x", "lighting", va),)  # fmt: skip


def dwellings(tables):
    base = {"area": "3000"}
    for row in tables("cooking").rows:
        count = row.rstrip("+").split("-")[0]
        for rating in ("3 kW", "3.6 kW", "12 kW", "14 kW"):
            yield (
                "dwelling",
                {**base, "cooking": [{"nameplate": rating, "count": count}]},
                "1ph-120/240",
                (),
            )
    for row in tables("dryers").rows:
        count = row.rstrip("+").split("-")[0]
        yield (
            "dwelling",
            {**base, "dryers": [{"nameplate": "5 kW", "count": count}]},
            "1ph-120/240",
            (),
        )
    for area in (200, 900, 3000, 50_000):
        yield "dwelling", {"area": str(area)}, "1ph-120/240", ()
    fixed = [{"nameplate": "1 kW"}, {"nameplate": "2 kW"}, {"nameplate": "3 kW"}, {"nameplate": "510 W"},
             {"nameplate": "1/4 hp"}, {"nameplate": "9.6 kW", "place": "charger", "connection": "240"}]  # fmt: skip
    for method in ("standard", "optional"):
        for heaters in (3, 4):
            yield "dwelling", {**base, "method": method, "appliances": fixed, "climate": [
                {"nameplate": "2 kW", "count": str(heaters)}, {"nameplate": "1 kW", "what": "cooling"},
            ]}, "1ph-120/240", ()  # fmt: skip
        yield "dwelling", {**base, "method": method, "appliances": fixed, "climate": [
            {"nameplate": "2 kW", "what": "heat_pump"}, {"nameplate": "10 kW", "what": "backup"}]}, "1ph-120/240", ()  # fmt: skip
    yield (
        "dwelling",
        {**base, "appliances": [*fixed[:3], {"nameplate": "600 W"}]},
        "1ph-120/240",
        (),
    )
    yield (
        "dwelling",
        {**base, "appliances": [*fixed[:3], {"nameplate": "1/4 hp"}]},
        "1ph-120/240",
        (),
    )
    yield (
        "dwelling",
        {**base, "cooking": [{"nameplate": "3.6 kW", "count": "3"}]},
        "1ph-120/240",
        (),
    )
    yield (
        "dwelling",
        {**base, "cooking": [{"nameplate": "1.8 kW", "count": "2"}]},
        "1ph-120/240",
        (),
    )
    yield (
        "dwelling",
        {**base, "cooking": [{"nameplate": "8.7 kW", "count": "2"}, {"nameplate": "14 kW"}]},
        "1ph-120/240",
        (),
    )
    yield "dwelling", {**base, "cooking": [{"nameplate": "26 kW"}]}, "1ph-120/240", ()
    for supplied in ("service", "feeder"):
        yield (
            "dwelling",
            {**base, "supplied": supplied, "dryers": [{"nameplate": "20 kW"}]},
            "1ph-120/208",
            (),
        )
    # between 400 A and what an amended bound would let in
    for kilowatts in (5, 60, 90, 110):
        yield (
            "dwelling",
            {
                **base,
                "appliances": [
                    {"nameplate": f"{kilowatts} kW", "connection": "240", "place": "own"}
                ],
            },
            "1ph-120/240",
            (),
        )
    for adds in ("", "yes"):
        yield "dwelling", {**base, "calculation": "added", "existing_service": "100 A", "adds_climate": adds,
                           "climate": [{"nameplate": "2 kW", "count": "4"}]}, "1ph-120/240", ()  # fmt: skip
    yield "dwelling", {"calculation": "measured", "measured_demand": "58 A", "new_load": "7.2 kW",
                       "existing_service": "100 A"}, "1ph-120/240", ()  # fmt: skip


def motors(tables):
    systems = {
        "208 V": "3ph-208Y/120",
        "230 V": "3ph-240",
        "460 V": "3ph-480Y/277",
        "575 V": "3ph-600Y/347",
    }
    for row, cells in tables("motor_current_3ph").rows.items():
        for column, system in systems.items():
            for name, motor in ((column, "squirrel cage"), (f"sync {column}", "synchronous")):
                if cells.get(name):
                    yield (
                        "motor",
                        {"horsepower": f"{horsepower_of(row)} hp", "motor": motor},
                        system,
                        (),
                    )
    for row in tables("motor_current").rows:
        for connection, system in (("line-neutral", "1ph-120/240"), ("two-line", "1ph-120/240"),
                                   ("two-line", "3ph-208Y/120")):  # fmt: skip
            yield "motor", {"horsepower": f"{horsepower_of(row)} hp", "motor": "single-phase",
                            "connection": connection}, system, ()  # fmt: skip
    for row, cells in tables("motor_current_dc").rows.items():
        for column in cells:
            if cells[column]:
                yield "motor", {"horsepower": f"{horsepower_of(row)} hp", "motor": "direct current",
                                "dc_volts": column.removesuffix(" V")}, "3ph-480Y/277", ()  # fmt: skip
    for row in tables("motor_devices").rows:
        for device in tables("motor_devices").columns:
            for starts in ("yes", "no"):
                for hp in ("5 hp", "100 hp"):
                    yield "motor", {
                        "horsepower": hp if row != "single-phase" else "5 hp", "motor": row, "protection": device,
                        "starts_on_device": starts, "connection": "two-line" if row == "single-phase" else "three-phase",
                        "dc_volts": "240"}, "3ph-240", ()  # fmt: skip
    for duty in tables("motor_duty").rows:
        for time in tables("motor_duty").columns:
            yield (
                "motor",
                {"horsepower": "5 hp", "duty": duty, "rated_time": time, "nameplate": "14 A"},
                "3ph-240",
                (),
            )
    for letter in tables("locked_rotor").rows:
        yield "motor", {"horsepower": "5 hp", "code_letter": letter}, "3ph-240", ()
    for factor in ("1", "1.15", "1.2"):
        yield (
            "motor",
            {"horsepower": "5 hp", "service_factor": factor, "nameplate": "14 A"},
            "3ph-240",
            (),
        )


def feeders(tables):
    for name in tables("occupancy_load").rows:
        for area in ("1000", "8000", "200000"):
            yield "feeder", {"floors": [{"name": name, "area": area}], "signs": "1", "show_window": "10 ft",
                             "receptacles": "200"}, "3ph-208Y/120", ()  # fmt: skip
    for row in tables("kitchen_equipment").rows:
        count = row.rstrip("+").split("-")[0]
        yield (
            "feeder",
            {"loads": [{"name": "K", "nameplate": "3 kW", "count": count, "category": "kitchen"}]},
            "3ph-208Y/120",
            (),
        )
    motor = Piece("M", "motor", 8000, 8000, 22, "three-phase", "all", motor=22, device=60)
    yield "feeder", {}, "3ph-208Y/120", (motor, piece("c", "lighting", 9000, continuous=1.0))
    for conductor in ("auto", "500"):
        yield "feeder", {"size": conductor, "sets": "3" if conductor == "500" else ""}, "1ph-120/240", (
            Piece("d", "dwelling", 90_000, 90_000, 375, "two-line", neutral=375.0),)  # fmt: skip
    for device in (800, 1000):
        yield (
            "feeder",
            {"device": f"{device} A"},
            "3ph-480Y/277",
            (piece("x", "other", 780 * 480 * 3**0.5),),
        )


def transformers(tables):
    for column, connection, system, secondary in (
        ("three-phase", "delta-wye", "3ph-480Y/277", "3ph-208Y/120"),
        ("single-phase", "single-phase", "3ph-480Y/277", "1ph-120/240"),
    ):
        for size in tables("transformer_sizes").column(column).values():
            for scheme in ("primary only", "primary and secondary"):
                # sized by what hangs below, as the table of usual sizes is read
                for metal in ("copper", "aluminum"):
                    yield "transformer", {"connection": connection, "secondary": secondary, "scheme": scheme,
                                          "secondary_length": "9 ft", "material": metal}, system, (
                        piece("x", "other", size * 990),)  # fmt: skip
    for kva in ("0.1 kVA", "0.5 kVA", "1 kVA", "3 kVA", "10 kVA"):
        for control in ("", "yes"):
            for scheme in ("primary only", "primary and secondary"):
                for run in ("10 ft", "25 ft"):
                    yield "transformer", {"kva": kva, "connection": "single-phase", "secondary": "1ph-120",
                                          "scheme": scheme, "control": control, "secondary_run": run,
                                          "secondary_length": "9.9 ft"}, "3ph-480Y/277", ()  # fmt: skip
    for load in ("0.3 kVA", "0.5 kVA", "0.9 kVA", "1.1 kVA", "5 kVA"):
        yield (
            "buck_boost",
            {"measured": "120 V", "required_voltage": "132 V", "load": load},
            "1ph-120",
            (),
        )
    yield "autotransformer", {"one": "1000 V", "other": "100 V", "kva": "5 kVA", "fed": "1000 V",
                              "required_voltage": "900 V"}, "1ph-120", ()  # fmt: skip
    for supply in ("990 V", "1005 V"):
        yield "bank", {"primary": "1000 V", "secondary": "240 V", "kva": "25 kVA", "supply": supply,
                       "required_voltage": "240 V"}, "3ph-480Y/277", ()  # fmt: skip
    for impedance in ("5", "8"):
        for supervised in ("", "yes"):
            for fuse in ("fuse", "breaker"):
                for scheme in ("primary only", "primary and secondary"):
                    yield "transformer", {"kva": "500 kVA", "high": "13.8 kV", "impedance": impedance,
                                          "supervised": supervised, "primary_device_type": fuse,
                                          "scheme": scheme}, "3ph-480Y/277", ()  # fmt: skip


def filled(code):
    """Raceways of one conductor, of two, of many, and nipples; 25.98 of 12 AWG are 26."""
    if code.family == "cec":
        for count in (1, 2, 3, 26):
            conductors = [{"id": "c", "count": str(count), "size": "12"}]
            yield "raceway_fill", {"conductors": conductors}, "1ph-120/240", ()
        return
    for count in (1, 2, 3, 26):
        for trade in ("1", "auto"):
            conductors = [{"id": "c", "count": str(count), "size": "12"}]
            for nipple in ("", "yes"):
                yield "raceway_fill", {"trade_size": trade, "nipple": nipple, "conductors": conductors}, \
                    "1ph-120/240", ()  # fmt: skip
    for count in (12, 31):
        conductors = [{"id": "c", "count": str(count), "size": "4/0"}]
        yield "raceway_fill", {"raceway": "wireway", "conductors": conductors}, "1ph-120/240", ()
    yield from boxes(code)
    yield from trays(code)


def trays(code):
    """Each width of a tray of each form, with large and small cables."""
    for width in code.rows("tray"):
        for bottom in ("ladder", "solid"):
            cables = [{"id": "a", "count": "2", "diameter": "1.5", "large": "yes"},
                      {"id": "b", "count": "3", "diameter": "0.5"}]  # fmt: skip
            for some in (cables, cables[:1], cables[1:]):
                yield (
                    "cable_tray",
                    {"width": width, "bottom": bottom, "cables": some},
                    "1ph-120/240",
                    (),
                )
        for sizes in (["1000", "500"], ["4/0", "500"], ["500"], ["1000"]):
            singles = [{"id": s, "count": "3", "size": s} for s in sizes]
            yield (
                "cable_tray",
                {"width": width, "what": "singles", "singles": singles},
                "1ph-120/240",
                (),
            )


def boxes(code):
    """Each size of conductor in a box, each box the smallest one, six grounds; pull boxes."""
    volumes = {size: cell.value for size, cell in code.cells("box_volume", "in³").items()}
    for size in volumes:
        inside = {
            "conductors": [{"id": "c", "count": "2", "size": size}],
            **({"ground_size": size, "grounds": "6"} if code.cites("box_grounds") else
               {"connectors": "4", "supports": "2"}),
        }  # fmt: skip
        yield "box_fill", inside, "1ph-120/240", ()
        yield (
            "box_fill",
            {**inside, "devices": [{"id": "d", "count": "1", "size": size}]},
            "1ph-120/240",
            (),
        )
    for name, cell in code.cells("boxes", "in³").items():
        least, second = sorted(volumes, key=volumes.get)[:2]
        small, next_one = volumes[least], volumes[second]
        count, more = max(((a, b) for a in range(1, 29) for b in range(9)
                           if a * small + b * next_one <= cell.value),
                          key=lambda ab: ab[0] * small + ab[1] * next_one)  # fmt: skip
        conductors = [{"id": "c", "count": str(count), "size": least},
                      *({"id": "d", "count": str(b), "size": second} for b in [more] if b)]  # fmt: skip
        form = code.word("boxes", name, "form")
        yield "box_fill", {"form": form, "conductors": conductors}, "1ph-120/240", ()
    rows = [
        {"id": pull, "trade": "3", "wall": "left", "pull": pull} for pull in ("straight", "angle")
    ]
    yield "box_fill", {"purpose": "pull", "raceways": rows}, "1ph-120/240", ()


@cache
def pool(code):
    """Each distinct sheet once."""
    found = {json.dumps(s[:3]) + repr(s[3]): s for s in sheets(edition(code))}
    return tuple(found.values())


def answer(sheet, code):
    """A sheet's answer; its problems as text where it has none."""
    name, document, system, pieces = sheet
    context = Context(code, "us", SupplyPoint(SYSTEMS[system], fault=10_000.0), Demand.of(pieces))
    found = evaluate(kind(name), document, context)
    return to_json(found.report) if found.report else repr(found.problems)


@lru_cache(maxsize=3000)  # those of one edition
def plain(code, index):
    """The answer of a pool's sheet under the edition as it is printed."""
    return answer(pool(code)[index], edition(code))


def cells(code):
    """The cells that an edition gives itself; what it inherits is the older one's to try."""
    book = edition(code)
    for topic in book._tables:
        if topic == "limits":
            continue
        for row, found in book.table(topic).rows.items():
            for column, text in found.items():
                if text and book.span(topic, row, column).open:
                    yield topic, row, column, text


def lines_of(node):
    """The lines of a told sheet that cite something."""
    if isinstance(node, dict):
        if node.get("rules"):
            yield node
        node = list(node.values())
    if isinstance(node, list):
        for item in node:
            yield from lines_of(item)


def told(found):
    """Of an answer the lines that cite something: their text and what is amended there."""
    return [
        (strip(json.dumps(line)), " ".join(r["amended"] for r in line["rules"]))
        for line in (lines_of(found) if isinstance(found, dict) else ())
    ]


@cache
def plain_lines(code, index):
    return {line for line, _ in told(plain(code, index))}


@cache
def citing(code):
    """The sheets that cite each cell of an edition: amended to what it is, it is told there."""
    group = tuple(cells(code))
    book = edition(code).with_amendments(
        Amendment(topic, row, column, text, f"<{topic}|{row}|{column}>", "")
        for topic, row, column, text in group
    )
    found = {cell[:3]: [] for cell in group}
    for index, sheet in enumerate(pool(code)):
        lines = lines_of(answer(sheet, book))
        words = " ".join(rule["amended"] for line in lines for rule in line["rules"])
        for mark in set(re.findall("<(.*?)>:", words)):
            found[split(mark)].append(index)
    return found


def split(mark):
    topic, row, column = mark.split("|", 2)
    return topic, row, column


def told_when_changed(code, topic, row, column, text):
    """Whether a line says who amended a cell that shows only once it is another: a factor of 1, a
    step with the percent of the one before it."""
    book = edition(code)
    for value in other(text):
        if book.span(topic, row, column).problem(value):
            continue
        amended = book.with_amendments([Amendment(topic, row, column, value, "here", "")])
        for index in candidates(code, topic, row):
            found = told(answer(pool(code)[index], amended))
            if any("here" in words for _, words in found):
                return True
            if not found and isinstance(plain(code, index), dict):
                return True  # it no longer answers, and says what is not covered
    return False


# one worker for an edition: its pool is worked once for all of them
BY_CODE = pytest.mark.parametrize(
    "code", [pytest.param(code, marks=pytest.mark.xdist_group(f"cells {code}")) for code in CODES]
)


@BY_CODE
def test_every_cell_that_can_be_amended_is_told_by_a_line(code):
    every, cited = list(cells(code)), citing(code)
    silent = [c for c in every if not cited[c[:3]] and not told_when_changed(code, *c)]
    assert not silent, f"{len(silent)} of {len(every)}: {silent}"


def _moved(code, index, amended):
    """Whether a line that tells the change differs, or the sheet says that it has no answer now."""
    found = told(answer(pool(code)[index], amended))
    if not found:
        return bool(plain_lines(code, index))
    return any("here" in words and line not in plain_lines(code, index) for line, words in found)


@BY_CODE
def test_an_amended_cell_moves_the_line_that_tells_it(code, full):
    """Cell by cell: where a sheet cites it as it is, another figure in it changes that very line,
    which names the jurisdiction. Of each table every eighth, all of them with ``--full``."""
    tables = {}
    for cell in cells(code):
        tables.setdefault(cell[0], []).append(cell)
    every = [cell for found in tables.values() for cell in (found if full else found[::8])]
    cited = citing(code)
    book, stuck = edition(code), []
    for cell in every:
        values = [v for v in other(cell[3]) if not book.span(*cell[:3]).problem(v)]
        amended = [book.with_amendments([Amendment(*cell[:3], v, "here", "")]) for v in values]
        sheets = cited[cell[:3]]
        # the first and the last sheets most often tell; then all
        some = [*sheets[:1], *sheets[-3:], *sheets[1:-3]]
        if sheets and not any(
            _moved(code, index, changed) for index in some for changed in amended
        ):
            stuck.append(cell)
    assert not stuck, stuck


# "6 A as it lies: less than the 6 A asked of it"
READS_AS_ITS_LIMIT = re.compile(
    r"(?<![\d.,])(\d[\d,]*\.?\d*) (A|V|%|VA|mm²|Ω)\b[^.\"]{0,60}?"
    r"(?:less than|more than|above|below) the \1 \2\b"
)


def figures(text):
    """The figures that stand in a text."""
    found = re.findall(r"\d[\d,]*\.?\d*", text)
    return {float(one.replace(",", "")) for one in found if one.strip(",.")}


def shows(cell, text):
    """Whether a cell's figure stands in a line's text: as it is, as a factor of a percentage, or in
    thousandths."""
    try:
        value = float(cell)
    except ValueError:
        return cell in text
    return any(
        abs(value * scale - one) <= 1e-6 + 2e-3 * abs(value * scale)
        for one in figures(text)
        for scale in (1, 0.01, 100, 1000, 0.001)
    )


@BY_CODE
def test_each_line_shows_the_figures_of_the_cells_that_it_cites(code):
    """Never 55 A beside the cell that holds 65: the figure of every cell that a line of a worksheet
    cites stands in it, or in the arithmetic that leads to its value."""
    book, apart, alike = edition(code), {}, set()
    for index in range(len(pool(code))):
        found = plain(code, index)
        alike |= {one[0] for one in READS_AS_ITS_LIMIT.finditer(plain_answer(code, index))}
        for line in lines_of(found) if isinstance(found, dict) else ():
            if "kind" not in line or "label" not in line:
                continue  # findings and alternatives: in their words
            said = json.dumps({k: v for k, v in line.items() if k != "rules"}, ensure_ascii=False)
            for rule in line["rules"]:
                row, column = rule.get("row"), rule.get("column")
                if not row or not column or not book.has_table(rule["topic"]):
                    continue
                cell = book.table(rule["topic"]).rows.get(row, {}).get(column, "")
                if cell and not shows(cell, said):
                    apart.setdefault(
                        (line["name"], rule["topic"]), (index, row, column, cell, said)
                    )
    assert not apart, apart
    assert not alike, alike


# the kinds that read a table
KINDS = {
    "motor_voltages": ("motor",), "motor_devices": ("motor",), "motor_devices_larger": ("motor",),
    "adjustment": ("circuit",), "ambient": ("circuit",), "grouping": ("circuit",), "circuit_ratings": ("circuit",),
    "ambient_ground": ("circuit",), "soil": ("circuit",), "depth": ("circuit",),
    "conductor_properties": ("cable_run", "circuit"), "cooking": ("dwelling",), "electrode_caps": ("service",),
    "electrode_conductor": ("service",), "fuse_ratings": ("transformer",), "lighting_demand": ("dwelling",),
    "lighting_demand_others": ("feeder",), "raceway_fill": ("circuit",), "receptacle_demand": ("feeder",),
    "transformer_sizes": ("transformer",),
}  # fmt: skip


@cache
def plain_answer(code, index):
    return strip(as_text(plain(code, index)))


def as_text(found):
    return json.dumps(found, ensure_ascii=False) if isinstance(found, dict) else found


def candidates(code, topic, row):
    """The sheets that may read a cell: of a limit those that cite its rule, and some of all."""
    every = range(len(pool(code)))
    if topic != "limits":
        found = [i for i in every if pool(code)[i][0] in KINDS.get(topic, ())]
        # first those that name the row, then some of all
        word = row.split()[0].lower()
        named = [i for i in found if pool(code)[i][1].get("size") == row
                 or word in json.dumps(pool(code)[i][1].get("floors", "")).lower()
                 or (topic == "ambient_ground" and pool(code)[i][1].get("ground") == row)
                 or (topic in ("ambient_ground", "soil", "depth", "grouping")
                     and pool(code)[i][1].get("reference_method") in ("B", "C", "D", "E")
                     and pool(code)[i][1].get("grouped", "0") == "0"
                     and pool(code)[i][1].get("area", "16") == "16")
                 or (topic == "circuit_ratings" and pool(code)[i][1].get("use") == "lighting")]  # fmt: skip
        return named or found[:: max(1, len(found) // 80)]
    cited = f'"topic": "{edition(code).table("limits").rows[row]["rule"]}"'
    found = [i for i in every if cited in plain_answer(code, i)]
    outlets = [i for i in every if pool(code)[i][1].get("use") in ("receptacles", "water heater", "lighting")
               or pool(code)[i][2] == "1ph-120/208"
               or (row.endswith("_tt") and pool(code)[i][1].get("earthing") == "TT")
               or (row.startswith("k_") and pool(code)[i][1].get("line") == "400")]  # fmt: skip
    word = row.split("_")[0]
    named = [i for i in every if f'"{word}"' in json.dumps(pool(code)[i][1])]
    return [
        *named[:: max(1, len(named) // 60)],
        *found[:: max(1, len(found) // 150)],
        *outlets,
        *every[::13],
    ]


# only the volts of a whole job read them
OF_THE_JOB = {(code.id, "drop_total") for family in ("cec", *METRIC) for code in editions(family)}
# fixed equipment never opens within the shorter time: there is nothing below 0 A
OF_THE_JOB |= {("bs7671-2018", f"drop_{use}_private") for use in ("lighting", "branch")}
OF_THE_JOB |= {("asnzs3000-2018", "final_fixed")}


def changes(code, row, text):
    """Whether some sheet changes when a limit has another figure, the marks left aside."""
    book = edition(code)
    for value in other(text):
        if book.span("limits", row, "value").problem(value):
            continue
        amended = book.with_amendments([Amendment("limits", row, "value", value, "here", "")])
        for index in candidates(code, "limits", row):
            if strip(as_text(answer(pool(code)[index], amended))) != plain_answer(code, index):
                return True
    return False


@BY_CODE
def test_every_limit_reaches_an_answer(code):
    rows = edition(code)._tables["limits"].rows  # its own: what it inherits is tried once
    silent = [
        name
        for name, found in sample(list(rows.items()), 4)
        if (code, name) not in OF_THE_JOB and not changes(code, name, found["value"])
    ]
    assert not silent, silent


def other(text):
    if text in ("yes", "no"):
        return ["no" if text == "yes" else "yes"]
    if not text.replace(".", "").isdigit():
        return ["4/0" if text != "4/0" else "2/0"]
    value = float(text)
    if text in edition("nec-2020").table("ampacity").rows and value < 15:
        return [str(int(value) + 2) if value < 10 else "6", "1", f"{value * 1.5:g}"]
    found = [f"{value * factor:g}" for factor in (1.6, 0.7, 3, 0.3, 1.1)]
    # what may be a size needs another size: mm² of small conductors, kcmil of large ones
    small, large = (
        (["2.5", "4"] if value <= 4 else []),
        (["600", "250", "1000"] if value >= 250 else []),
    )
    return [*found, *small, *large]


def strip(text):
    """An answer without the marks of amendments, so that only figures tell."""
    return re.sub(r'"amended": "(?:[^"\\\\]|\\\\.)*"', "", text)
