"""A job's own settings, and a part's name."""

from __future__ import annotations

from typing import Any

from django import forms

from voltaje.core.electrical.systems import DWELLING_SYSTEMS, SYSTEMS
from voltaje.web.jobs.actions import BEGINNINGS
from voltaje.web.jobs.models import Job, Part, edition_choices


class JobForm(forms.ModelForm):
    """Name, code edition and units of a job."""

    edition = forms.ChoiceField(label="Code edition", choices=edition_choices, initial="nec-2020")

    class Meta:
        model = Job
        fields = ("name", "edition", "units", "preference")
        labels = {
            "name": "Name of the job",
            "units": "Bare figures are in",
            "preference": "Take the",
        }
        error_messages = {
            "name": {
                "required": "Give the job a name, such as the building’s.",
                "max_length": "Too long: at most 80 characters.",
            }
        }


class NewJobForm(JobForm):
    """A new job: also its supply and what it begins with."""

    system = forms.ChoiceField(
        label="Supply", choices=[(key, item.label) for key, item in SYSTEMS.items()],
        initial="1ph-120/240",
    )  # fmt: skip
    begins = forms.ChoiceField(
        label="Begins with", choices=list(BEGINNINGS.items()), initial="dwelling"
    )

    def clean(self) -> dict[str, Any]:
        """A dwelling needs a supply that dwellings have."""
        data = super().clean() or {}
        if data.get("begins") == "dwelling" and data.get("system") not in DWELLING_SYSTEMS:
            self.add_error("begins", "A dwelling stands on 120/240 V or on two lines of a wye:"
                           " choose that supply, or begin with a board.")  # fmt: skip
        return data


class PartForm(forms.ModelForm):
    """A part's name."""

    class Meta:
        model = Part
        fields = ("name",)
        error_messages = {
            "name": {
                "required": "Give the part a name.",
                "max_length": "Too long: at most 80 characters.",
            }
        }
