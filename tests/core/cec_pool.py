"""Sheets of the Canadian edition that between them read every cell and limit of it."""

from voltaje.core.electrical.systems import Piece
from voltaje.core.rules.north_america.motors import horsepower_of

METALS = ("copper", "aluminum")
COVERS = ("T90 Nylon", "RW90", "TWN75", "RW75", "TW75", "TW")
WYE, HOUSE = "3ph-208Y/120", "1ph-120/240"


def piece(name, category, va, **more):
    return Piece(name, category, va, va, va / 360, "three-phase", "all", **more)


def circuit(system=WYE, **more):
    return "circuit", {"load": "10 A", **more}, system, ()


def canadian(code):
    """Every table of it by circuits, runs, feeders, motors and dwellings."""
    tables = code.table
    for size, cells in tables("ampacity").rows.items():
        for metal in (m for m in METALS if cells[f"{m} 60"]):
            for cover in COVERS:
                for run_in in ("EMT", "PVC 40"):
                    yield circuit(size=size, material=metal, terminals="75", cover=cover,
                                  run_in=run_in, length="10 ft")  # fmt: skip
            for celsius in ("75", "40"):
                yield "cable_run", {"segments": [{"nameplate": "10 A", "length": "100 ft"}], "size": size,
                              "material": metal, "conductor_temperature": celsius}, WYE, ()  # fmt: skip
    for size in tables("impedance").rows:
        for run_in in ("EMT", "PVC 40"):
            yield circuit(size=size, run_in=run_in, length="10 ft", power_factor="0.8")
    for trade in range(14):
        for run_in in ("EMT", "RMC", "PVC 40"):
            for size in ("14", "6", "2/0", "500"):
                yield circuit(size=size, run_in=run_in, others=str(trade * 2))
    for counted in (0, 2, 6, 12, 25, 35, 45):
        yield circuit(others=str(counted))
    for row in tables("ambient").rows:
        for cover in ("TW", "RW75", "RW90"):
            yield circuit(load="1 A", ambient=row, cover=cover)
    for size in ("14", "12", "10"):
        for metal in METALS:
            yield circuit(HOUSE, size=size, material=metal)
    devices = (
        *tables("equipment_grounding").rows,
        *tables("standard_devices").column("A").values(),
    )
    for device in map(float, devices):
        for metal in METALS:
            yield "feeder", {"device": str(device), "material": metal}, "3ph-480Y/277", (
                piece("x", "other", device * 0.9 * 480 * 3**0.5),)  # fmt: skip
    for amperes in (8, 10, 14, 19, 24, 29, 38, 48):
        for use in ("lighting", "general"):
            yield circuit(use=use, load=f"{amperes} A", continuous="yes")
        yield "circuit", {"use": "receptacles", "outlets": str(amperes)}, HOUSE, ()
    for outlets in ("12", "13"):
        yield "circuit", {"use": "receptacles", "outlets": outlets}, HOUSE, ()
    for length in ("40 m", "90 m"):
        yield circuit(load="30 A", length=length)
    for category in ("lighting", "receptacles", "kitchen"):
        yield "feeder", {}, WYE, (piece("x", category, 9000, continuous=1.0),)
    for amperes in (190.0, 375.0):
        for size, sets in (("auto", ""), ("500", "3")):
            yield "feeder", {"size": size, "sets": sets}, HOUSE, (
                Piece("d", "dwelling", 90_000, 90_000, 375, "two-line", neutral=amperes),)  # fmt: skip
    motor = Piece("M", "motor", 8000, 8000, 22, "three-phase", "all", motor=22, device=60)
    yield "feeder", {}, WYE, (motor, piece("c", "lighting", 9000))
    for device in (500, 600, 700, 1000):
        yield "feeder", {"device": f"{device} A"}, "3ph-480Y/277", (
            piece("x", "other", 0.97 * device * 480 * 3**0.5),)  # fmt: skip
    for size, sets in (("1", "2"), ("1/0", "2")):
        yield "feeder", {"size": size, "sets": sets}, WYE, (piece("x", "other", 60_000),)
    for place in ("opposite", "anywhere"):
        for main in ("120 A", "175 A", "200 A"):
            yield "inverter", {"power": "20 kW", "bus": "200 A", "main": main,
                               "place": place}, WYE, ()  # fmt: skip
    for volts in (215, 221, 228, 245, 249, 251, 260):
        yield "supply", {"system": HOUSE, "volts": f"{volts} V"}, HOUSE, ()
    yield from motors(tables)
    yield from dwellings()
    yield from transformers(tables)
    for amperes in (40, 90, 180, 260, 380, 520):
        for metal in METALS:
            yield "service", {"rod": "yes", "water_pipe": "yes", "material": metal}, WYE, (
                piece("x", "other", amperes * 360),)  # fmt: skip


def motors(tables):
    """Motors by every row and column."""
    systems = {"208 V": WYE, "230 V": "3ph-240", "460 V": "3ph-480Y/277", "575 V": "3ph-600Y/347"}
    for row in tables("motor_current_3ph").rows:
        for system in systems.values():
            yield "motor", {"horsepower": f"{horsepower_of(row)} hp"}, system, ()
    for row in tables("motor_current").rows:
        for connection, system in (("line-neutral", HOUSE), ("two-line", HOUSE), ("two-line", WYE)):
            yield "motor", {"horsepower": f"{horsepower_of(row)} hp", "motor": "single-phase",
                            "connection": connection}, system, ()  # fmt: skip
    for row in tables("motor_devices").rows:
        for device in tables("motor_devices").columns:
            for starts in ("yes", "no"):
                for hp in ("5 hp", "75 hp", "200 hp"):
                    single = row == "single-phase"
                    yield "motor", {
                        "horsepower": "5 hp" if single else hp, "motor": row, "protection": device,
                        "starts_on_device": starts, "connection": "two-line" if single else "three-phase",
                        "nameplate": "19 A" if row == "synchronous" else "",
                    }, "3ph-240", ()  # fmt: skip
    for device in tables("motor_devices").columns:
        for amperes in ("20 A", "40 A"):
            yield "motor", {"horsepower": "10 hp", "nameplate": amperes, "starting": "star-delta",
                            "protection": device}, "3ph-240", ()  # fmt: skip
    for load in ("8 kW", "14 kW"):
        yield "circuit", {"use": "range", "load": load, "connection": "two-line"}, HOUSE, ()
    for duty in tables("motor_duty").rows:
        for time in tables("motor_duty").columns:
            yield "motor", {"horsepower": "5 hp", "duty": duty, "rated_time": time,
                            "nameplate": "14 A"}, "3ph-240", ()  # fmt: skip
    yield "motor", {"horsepower": "5 hp", "nameplate": "13 A"}, "3ph-240", ()
    for factor in ("1", "1.15", "1.2"):
        yield "motor", {"horsepower": "5 hp", "service_factor": factor,
                        "nameplate": "14 A"}, "3ph-240", ()  # fmt: skip
    yield (
        "motor",
        {"horsepower": "30 hp", "motor": "wound rotor", "secondary": "65 A"},
        "3ph-240",
        (),
    )


def transformers(tables):
    """Every usual size under both schemes, the runs of their secondaries, small ones by hand."""
    for column, connection, system, secondary in (
        ("three-phase", "delta-wye", "3ph-480Y/277", "3ph-208Y/120"),
        ("single-phase", "single-phase", "3ph-480Y/277", "1ph-120/240"),
    ):
        for size in tables("transformer_sizes").column(column).values():
            for scheme in ("primary only", "primary and secondary"):
                yield "transformer", {"connection": connection, "secondary": secondary,
                                      "scheme": scheme, "secondary_length": "9 ft"}, system, (
                    piece("x", "other", size * 990),)  # fmt: skip
    for kva in ("0.2 kVA", "0.5 kVA", "0.7 kVA", "1 kVA", "2 kVA", "3 kVA", "5 kVA", "9 kVA",
                "150 kVA"):  # fmt: skip
        for scheme in ("primary only", "primary and secondary"):
            for run in ("10 ft", "25 ft", "outside"):
                for length in ("9.8 ft", "24 ft"):
                    yield "transformer", {"kva": kva, "connection": "single-phase",
                                          "secondary": "1ph-120", "scheme": scheme,
                                          "secondary_run": run,
                                          "secondary_length": length}, "3ph-480Y/277", ()  # fmt: skip


def dwellings():
    """Houses, units and buildings on both sides of every figure."""
    for area in ("60 m²", "79 m²", "80 m²", "81 m²", "91 m²", "185 m²", "400 m²"):
        for basement in ("", "70 m²"):
            yield "dwelling", {"area": area, "basement": basement}, HOUSE, ()
        yield "dwelling", {"subject": "unit", "area": area}, HOUSE, ()
    loads = [{"nameplate": "1.5 kW"}, {"nameplate": "1.6 kW"}, {"nameplate": "5 kW"},
             {"nameplate": "9 kW", "counts_as": "tankless"},
             {"nameplate": "7.2 kW", "counts_as": "vehicle"},
             {"nameplate": "7.2 kW", "counts_as": "managed"}]  # fmt: skip
    heat = [{"nameplate": "3 kW", "count": "5"}, {"nameplate": "9 kW", "what": "cooling"}]
    for cooking in ([], [{"nameplate": "11 kW"}], [{"nameplate": "14 kW"}]):
        for never in ("", "yes"):
            yield "dwelling", {"area": "300 m²", "appliances": loads, "cooking": cooking,
                               "climate": heat, "noncoincident_climate": never}, HOUSE, ()  # fmt: skip
    for existing in ("100 A", "400 A"):
        yield "dwelling", {"area": "300 m²", "appliances": loads, "existing": existing}, HOUSE, ()
    for count in (1, 2, 3, 5, 6, 20, 24, 60):
        yield "dwelling", {"subject": "building", "units": [{"load": "9 kW", "count": str(count)}],
                           "units_heating": "40 kW", "units_cooling": "9 kW",
                           "units_vehicles": "14 kW", "units_common": "8 kW"}, HOUSE, ()  # fmt: skip
    for ambient in ("30", "45"):
        yield "dwelling", {"area": "90 m²", "ambient": ambient, "others": "3"}, HOUSE, ()
