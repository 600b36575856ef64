"""A job's own settings, and a part's name."""

from __future__ import annotations

from django import forms

from voltaje.web.jobs.models import Job, Part, edition_choices


class JobForm(forms.ModelForm):
    """Name, code edition and units of a job."""

    edition = forms.ChoiceField(label="Code edition", choices=edition_choices, initial="nec-2020")

    class Meta:
        model = Job
        fields = ("name", "edition", "units")
        labels = {"name": "Name of the job"}
        error_messages = {
            "name": {
                "required": "Give the job a name, such as the building’s.",
                "max_length": "Too long: at most 80 characters.",
            }
        }


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
