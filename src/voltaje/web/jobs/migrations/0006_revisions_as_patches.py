"""Positions get gaps between them; revisions that held whole documents become the steps between."""

from django.db import migrations
from django.db.models import F

from voltaje.web.history import delta

GAP = 1024


def spaced(state):
    return state and (
        {**state, "position": (state["position"] + 1) * GAP} if "position" in state else state
    )


def shorter(item):
    before, after = spaced(item["before"]), spaced(item["after"])
    if before is None or after is None:
        return {"target": item["target"], "before": before, "after": after}
    changed = [n for n in after if n != "entries" and before.get(n) != after[n]]
    found = {
        "target": item["target"],
        "before": {n: before[n] for n in changed if n in before},
        "after": {n: after[n] for n in changed if n in before},
    }
    if "entries" in after:
        found["entries"] = delta.diff(
            delta.given(before["entries"]), delta.given(after["entries"])
        )
    return found


def forwards(apps, schema_editor):
    apps.get_model("jobs", "Part").objects.update(position=(F("position") + 1) * GAP)
    revisions = apps.get_model("jobs", "Revision").objects
    for key in list(revisions.values_list("pk", flat=True)):
        revision = revisions.get(pk=key)
        revision.changes = [shorter(item) for item in revision.changes]
        revision.save(update_fields=["changes"])


class Migration(migrations.Migration):
    dependencies = [("jobs", "0005_nothing_lost")]
    operations = [migrations.RunPython(forwards, migrations.RunPython.noop)]
