from django.db import migrations

RENAMED = {
    "neutral": "multiwire_circuit",
    "booster": "buck_boost",
    "run": "cable_run",
    "joints": "winding_connections",
}


def rename(apps, names):
    """Parts, and what revisions hold of them, so that undo and history work across it."""
    part, revision = apps.get_model("jobs", "Part"), apps.get_model("jobs", "Revision")
    for old, new in names.items():
        part.objects.filter(kind=old).update(kind=new)
        for side in ("before", "after"):
            found = revision.objects.filter(changes__contains=[{side: {"kind": old}}])
            for item in found.iterator(chunk_size=200):
                for change in item.changes:
                    state = change.get(side)
                    if isinstance(state, dict) and state.get("kind") == old:
                        state["kind"] = new
                item.save(update_fields=["changes"])


def forwards(apps, schema_editor):
    rename(apps, RENAMED)


def backwards(apps, schema_editor):
    rename(apps, {new: old for old, new in RENAMED.items()})


class Migration(migrations.Migration):

    dependencies = [
        ("jobs", "0012_drop_schemes"),
    ]

    operations = [
        migrations.RunPython(forwards, backwards),
    ]
