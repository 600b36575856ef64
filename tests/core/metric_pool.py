"""Sheets of a metric edition that between them read every cell and limit of it."""

from voltaje.core.electrical.systems import Piece
from voltaje.core.rules.iec60364.entries import SIZES
from voltaje.core.rules.interface import code_of


def piece(name, category, va, **more):
    return Piece(name, category, va, va, va / 360, "three-phase", "all", **more)


def dwellings(code):
    """Dwellings by every use that the family knows, few and many, alone and in blocks."""
    uses = code_of(code.family).dwelling_uses
    mains = {"device_type": "gG", "cable": "single"}
    own = {"share": "60"} if not code.has_table("dwelling_demand") and "guide_lighting" not in (
        code.table("limits").rows) else {}  # fmt: skip
    for use in uses:
        for count in (1, 3, 9, 20, 21, 45):
            row = {"use": use, "load": "4 kW" if count < 9 else "30 W", "count": str(count), **own}
            for units in (1, 2, 6, 21) if code.has_table("dwelling_demand") else (1,):
                more = {"living_units": str(units)} if units > 1 else {}
                yield "dwelling", {**mains, "uses": [row], **more}, "1ph-230", ()
    for earthing in ("TN", "TT"):
        yield "dwelling", {**mains, "earthing": earthing, "length": "12 m", "external_loop": "0.2",
                           "uses": [{"use": "other", "load": "12 kW"}]}, "3ph-400Y/230", ()  # fmt: skip


def cables(code):
    """Circuits by hand through every column, factor, size and limit of a metric edition."""
    run = {"load": "5 A", "length": "10 m", "external_loop": "0.2"}
    wiring = code_of(code.family).wiring
    own = wiring.METHOD
    laid = reversed([(m.grouping, name) for name, m in wiring.METHODS.items() if not m.insulated])
    by_grouping = dict(laid)  # the first of each
    in_air, in_ground = by_grouping["C"], by_grouping["D"]

    def circuit(three=False, **more):
        connection = "three-phase" if three else "line-neutral"
        system = "3ph-400Y/230" if three else "1ph-230"
        return "circuit", {**run, "connection": connection, **more}, system, ()

    yield from dwellings(code)
    for topic in [one for one in code.topics() if one.startswith("ampacity")]:
        table, metal = code.table(topic), "aluminum" if topic.endswith("_al") else "copper"
        cable = topic.removeprefix("ampacity_").removesuffix("_al").replace("_", " ")
        for size, found in table.rows.items():
            for column in (name for name, text in found.items() if text):
                method, _, loaded = column.split(" | ")
                more = {own: method, "material": metal, "cable": cable, "area": size}
                yield circuit(loaded == "3", **more)
    for size in SIZES:
        yield circuit(area="120", protective=size)
        yield circuit(area=size, protective="auto")
    for ambient in range(20, 95, 5):
        for cable in ("multi", "multi 90"):
            yield circuit(cable=cable, ambient=str(ambient), **{own: in_air})
        for cable in ("armoured", "armoured 90"):
            more = {own: in_ground, "ground": str(ambient - 10), "cable": cable}
            yield circuit(**more)
            yield circuit(True, **more)
    for others in range(21):
        for group, method in by_grouping.items():
            for cable in ("armoured" if group == "D" else "multi", "armoured"):
                for three in (False, True):
                    yield circuit(three, cable=cable, grouped=str(others), **{own: method})
    for topic in ("soil", "depth"):
        for row in code.table(topic).rows:
            for three in (False, True):
                yield circuit(three, cable="armoured", **{own: in_ground, topic: row})
    if code.has_table("insulation_length"):
        for length in ("40", "90", "150", "300", "700"):
            yield circuit(insulated=length)
    for column in code.table("fuse_loops").columns:
        fuse = column.split(" | ")[0]
        for rating in code.table("fuse_loops").column(column):
            for use in ("kiln", "general"):
                yield circuit(device_type=fuse, device=rating, use=use, load="1 A")
    for load in ("6 A", "31 A", "33 A"):
        for area in ("auto", "2.5", "4"):
            for spur in ("", "6 m"):
                yield circuit(layout="ring", load=load, cable="flat", reference_method="101",
                              area=area, spur=spur)  # fmt: skip
    for curve in "BCD":
        yield circuit(device_type=curve, use="water heater")
    for setting, magnetic in (("", ""), ("14 A", "6"), ("8 A", "4")):
        yield circuit(device_type="MCCB", setting=setting, magnetic=magnetic)
        yield circuit(device_type="MCCB", setting=setting, magnetic=magnetic, device="20 A")
    for rcd in ("30", "100"):
        yield circuit(rcd=rcd)
    for device in ("25", "32", "40", "50", "63", "80"):
        for use in ("kiln", "general", "shower"):
            yield circuit(device_type="gG", device=device, use=use)
            yield circuit(device=device, use=use)
    for third in range(5, 60, 3):
        yield circuit(True, cable="multi", neutral="yes", third=str(third))
    for cable in ("flat", "multi", "multi 90"):
        for device in ("B", "gG"):
            for metal in ("copper", "aluminum"):
                yield circuit(
                    cable=cable if metal == "copper" else f"armoured{cable[5:]}",
                    area="2.5" if metal == "copper" else "70", material=metal,
                    protective="1.5" if metal == "copper" else "16", device_type=device,
                    **{own: in_air})  # fmt: skip
    for use in ("lighting", "general"):
        for length in ("120 m", "160 m", "260 m"):
            yield "circuit", {**run, "use": use, "length": length}, "1ph-230", ()
    for metal in ("copper", "aluminum"):
        for cable, way in (("armoured", in_air), ("armoured", in_ground), ("armoured 90", in_air)):
            yield circuit(drop_by="finer", cable=cable, area="50", material=metal, ambient="40",
                          **{own: way})  # fmt: skip
    # without a size by hand the protective conductor's bounds show
    for amperes in ("70 A", "90 A", "120 A"):
        yield "circuit", {**run, "load": amperes}, "1ph-230", ()
    for way in ("cooker", "cooker and socket"):
        yield circuit(use="cooker", load="9 kW", diversity=way)
    for start in ("direct", "wye_delta", "soft", "converter"):
        for device in ("B", "C", "D", "MCCB", "gG"):
            yield "machine", {"power": "7.5 kW", "start": start, "device_type": device,
                              "length": "90 m", "external_loop": "0.1"}, "3ph-400Y/230", ()  # fmt: skip
    for metal in ("copper", "aluminum"):
        for cable in ("armoured", "armoured 90"):
            for area in ("auto", "16", "50"):
                yield "machine", {"nameplate": "52 A", "device_type": "gG", "cable": cable,
                                  "material": metal, "area": area, "external_loop": "0.05",
                                  "length": "20 m", own: in_air}, "3ph-400Y/230", ()  # fmt: skip
    for power in code.table("motor_current").rows:
        yield (
            "machine",
            {"power": f"{power} kW", "device_type": "MCCB", "cable": "multi", own: in_air},
            "3ph-400Y/230",
            (),
        )
    for device in code.table("breaking").rows:
        yield "distribution", {"load": "8 A", "length": "20 m", "device_type": device,
                               "external_loop": "0.05", "cable": "armoured", own: in_air}, "3ph-400Y/230", (
            piece("m", "motor", 1000, device=6.0),)  # fmt: skip
    for volts in ("357 V", "359 V", "375 V", "377 V", "437 V", "441 V"):
        yield "supply", {"system": "3ph-400Y/230", "volts": volts}, "1ph-230", ()
    for earthing in ("TN-S", "TN-C-S"):
        yield "supply", {"system": "3ph-400Y/230", "earthing": earthing}, "1ph-230", ()
        for size in ("6", "10", "16", "25", "35", "50", "70", "95", "150", "240", "400"):
            yield "earthing", {"line": size, "earthing": earthing}, "3ph-400Y/230", ()
            for buried in ("", "yes"):
                for sheathed in ("", "yes"):
                    yield "earthing", {"line": size, "earthing": earthing, "buried": buried,
                                       "corrosion_protected": sheathed}, "3ph-400Y/230", ()  # fmt: skip
                yield "earthing", {"line": size, "earthing": earthing, "buried": buried,
                                   "fault": "900 A", "seconds": "0.4"}, "3ph-400Y/230", ()  # fmt: skip
    for device in ("gG", "BS 88-3", "BS 3036"):  # a small one for distribution has 5 s
        for load in ("2 A", "4 A", "5 A", "6 A", "10 A", "16 A", "20 A", "25 A", "30 A", "32 A"):
            yield "distribution", {"load": load, "length": "20 m", "device_type": device,
                                   "external_loop": "0.2", own: in_air}, "3ph-400Y/230", ()  # fmt: skip
    for seconds in ("1", "2"):
        yield "earthing", {"line": "400", "earthing": "TN-S", "fault": "60 kA",
                           "seconds": seconds}, "3ph-400Y/230", ()  # fmt: skip
    for rcd in ("none", "300"):
        yield "distribution", {"load": "40 A", "length": "20 m", "device_type": "gG", "earthing": "TT", "rcd": rcd,
                               "external_loop": "0.5", own: in_air}, "3ph-400Y/230", ()  # fmt: skip
    if code.family == "bs7671":
        yield from enclosures(code)


def enclosures(code):
    """Each term of a cable, a conduit and a trunking."""

    def cables(size, strands, insulation="PVC"):
        return [
            {"id": "c", "count": "2", "size": size, "strands": strands, "insulation": insulation}
        ]

    for what, more in (("conduit", {}), ("conduit", {"length": "4 m"}), ("trunking", {})):
        for size in ("1", "1.5", "2.5", "4", "6", "10", "16", "25"):
            for strands in ("solid", "stranded"):
                for insulation in ("PVC", "XLPE"):
                    yield "trunking", {"what": what, **more, "cables": cables(size, strands, insulation)}, \
                        "1ph-230", ()  # fmt: skip
    for size in code.rows("trunking_terms"):
        inside = {"cables": cables("2.5", "stranded")}
        yield "trunking", {"what": "trunking", "trunking": size, **inside}, "1ph-230", ()
    for size in ("16", "20", "25", "32", "38", "50", "63"):
        inside = {"cables": cables("1.5", "stranded"), "conduit": size}
        yield "trunking", inside, "1ph-230", ()
        for length in code.rows("conduit_terms"):
            for bends in "01234":
                yield "trunking", {"length": f"{length} m", "bends": bends, **inside}, "1ph-230", ()
