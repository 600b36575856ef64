"""The work between two states of a job: what changes, in which steps, who is without power
meanwhile."""

from voltaje.core.work_schedule.changes import Changes, ItemChange, Side, SideItem, changes
from voltaje.core.work_schedule.ordering import WorkPlan, plan
from voltaje.core.work_schedule.outages import (
    Block,
    OutOfOrderError,
    TimedBlock,
    WorkingHours,
    blocks,
    check_order,
    places_to_read,
    spans_of,
    timed,
)
from voltaje.core.work_schedule.site import ReadingPair, Site, SiteItem
from voltaje.core.work_schedule.steps import Act, Step, lock_out, words_of_lock_out

__all__ = [
    "Act",
    "Block",
    "Changes",
    "ItemChange",
    "OutOfOrderError",
    "ReadingPair",
    "Side",
    "SideItem",
    "Site",
    "SiteItem",
    "Step",
    "TimedBlock",
    "WorkPlan",
    "WorkingHours",
    "blocks",
    "changes",
    "check_order",
    "lock_out",
    "places_to_read",
    "plan",
    "spans_of",
    "timed",
    "words_of_lock_out",
]
