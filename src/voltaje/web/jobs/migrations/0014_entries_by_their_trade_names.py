"""Entries of parts, and what revisions hold of them, under the ids of this version."""

from django.db import migrations

from voltaje.core.entries import of_today
from voltaje.web.history import delta

IN_BOARD = {"space": "position", "stays": "pinned"}
AMERICAN = {"method": "wiring_method", "run_in": "raceway_or_cable", "cover": "conductor_type"}
WIRED = {**AMERICAN, "marked": "continuous_rating"}
CABLE = {
    "insulated": "thermal_insulation",
    "grouped": "grouped_circuits",
}
METRIC = {
    **CABLE,
    "third": "third_harmonic",
    "drop_by": "drop_method",
    "setting": "thermal_setting",
    "magnetic": "magnetic_setting",
    "protective": "protective_conductor",
}
HEAT = {
    "reference": "reference_temperature",
    "inside": "enclosure_temperature",
    "beside": "adjacent_breakers",
    "makers": "manufacturer_table",
    "manufacturer_table.inside": "enclosure_temperature",
}
ALONG = {**IN_BOARD, **CABLE, **AMERICAN, "celsius": "conductor_temperature"}
RENAMED = {
    "supply": {"volts": "measured_voltage"},
    "service": WIRED,
    "transformer": {
        **IN_BOARD,
        **WIRED,
        "high": "primary_voltage",
        "high_device": "primary_device_type",
        "aim": "primary_device",
        "holds": "device_withstand",
        "scheme": "protection",
    },
    "buck_boost": {
        **IN_BOARD,
        "method": "wiring_method",
        "measured": "measured_voltage",
        "wanted": "required_voltage",
        "hertz": "frequency",
        "what": "load_type",
    },
    "feeder": {**IN_BOARD, **WIRED, "loads.together": "noncoincident_with"},
    "distribution": {**IN_BOARD, **METRIC, "may_lose": "maximum_drop"},
    "earthing": {
        "guarded": "mechanically_protected",
        "sheathed": "corrosion_protected",
        "seconds": "clearing_time",
        "line": "line_conductor",
        "neutral": "supply_neutral",
    },
    "board": {
        "main_at": "main_position",
        "kept": "reserved_positions",
        "reserved_positions.space": "position",
        "imbalance": "maximum_imbalance",
    },
    "cable_run": {**ALONG, "ahead": "upstream_drop", "limit": "maximum_drop"},
    "street": {**ALONG, "consumers.stays": "pinned"},
    "circuit": {
        **IN_BOARD,
        **WIRED,
        **METRIC,
        "multiwire": "shared_neutral",
        "together": "noncoincident_with",
        "other_leg": "other_leg_length",
    },
    "multiwire_circuit": {
        **IN_BOARD,
        "method": "wiring_method",
        "celsius": "conductor_temperature",
        "a": "phase_a",
        "b": "phase_b",
        "c": "phase_c",
        "open": "opened_at",
        "loads.third": "third_harmonic",
    },
    "machine": {
        **IN_BOARD,
        **METRIC,
        "together": "noncoincident_with",
        "start_times": "starting_current",
        "start": "starting",
    },
    "cooking": {**IN_BOARD, "method": "wiring_method"},
    "inverter": {
        **IN_BOARD,
        **WIRED,
        **METRIC,
        **HEAT,
        "may_rise": "maximum_rise",
        "most": "maximum_current",
        "bus": "bus_rating",
        "bus_others": "bus_other_devices",
        "place": "connection_point",
    },
    "motor": {
        **IN_BOARD,
        **WIRED,
        "together": "noncoincident_with",
        "rise": "temperature_rise",
        "start_times": "starting_current",
        "starts": "starts_on_device",
    },
    "dwelling": {
        **IN_BOARD,
        **{old: new for old, new in METRIC.items() if old != "protective"},
        "cover": "conductor_type",
        "most_single": "largest_phase_load",
        "never_together": "noncoincident_climate",
        "units_apart": "noncoincident_units",
    },
    # items of a quick sheet alone are in no job
    "amperes": {"volts": "voltage"},
    "autotransformer": {
        "how": "construction",
        "one": "winding",
        "other": "other_winding",
        "points": "taps",
        "fed": "source_voltage",
        "wanted": "required_voltage",
    },
    "bank": {"wanted": "required_voltage", "turned": "reversed_secondary"},
    "winding_connections": {"fed": "supplied_lines", "taken": "load_lines"},
    "breaker": HEAT,
}


def turned_round(ids):
    """The way back: lists under their old names, what is in their rows after them."""
    lists = {new: old for old, new in ids.items() if "." not in old}
    found = {}
    for old, new in ids.items():
        head, _, column = old.rpartition(".")
        found[f"{lists.get(head, head)}.{new}" if head else new] = column
    return found


def rename(apps, names):
    """``names`` of a kind, over its parts and all revisions that tell of them."""
    part, revision = apps.get_model("jobs", "Part"), apps.get_model("jobs", "Revision")
    kinds = {}
    for item in part.objects.only("pk", "kind", "entries").iterator(chunk_size=500):
        kinds[str(item.pk)] = item.kind
        entries = of_today(item.entries, names.get(item.kind, {}))
        if entries != item.entries:
            part.objects.filter(pk=item.pk).update(entries=entries)
    for change in changes_of(revision):  # of parts that are deleted, too
        for side in ("before", "after"):
            if isinstance(change[side], dict) and "kind" in change[side]:
                kinds.setdefault(change["target"], change[side]["kind"])
    for item in revision.objects.only("pk", "changes").iterator(chunk_size=200):
        before = [dict(change) for change in item.changes]
        for change in item.changes:
            renamed(change, names.get(kinds.get(change["target"], ""), {}))
        if item.changes != before:
            revision.objects.filter(pk=item.pk).update(changes=item.changes)


def changes_of(revision):
    for item in revision.objects.only("changes").iterator(chunk_size=200):
        yield from item.changes


def renamed(change, ids):
    for side in ("before", "after"):
        state = change[side]
        if isinstance(state, dict) and isinstance(state.get("entries"), dict):
            change[side] = {**state, "entries": of_today(state["entries"], ids)}
    if change.get("entries"):
        change["entries"] = delta.of_today(change["entries"], ids)


def forwards(apps, schema_editor):
    rename(apps, RENAMED)


def backwards(apps, schema_editor):
    rename(apps, {kind: turned_round(ids) for kind, ids in RENAMED.items()})


class Migration(migrations.Migration):
    dependencies = [("jobs", "0013_kinds_by_their_trade_names")]
    operations = [migrations.RunPython(forwards, backwards)]
