"""A job's own settings, and a part's name."""

from __future__ import annotations

from typing import Any

from django import forms
from django.urls import reverse
from django.utils.html import format_html
from django.utils.translation import gettext, gettext_lazy

from voltaje.core import quantities
from voltaje.core.codes import edition
from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.kinds import kind
from voltaje.core.report import told
from voltaje.core.rules.interface import code_of
from voltaje.web.http import intake
from voltaje.web.jobs.actions import BEGINNINGS
from voltaje.web.jobs.beginnings import BUILDINGS, building
from voltaje.web.jobs.models import OWN_DROP, RESERVE, Job, Part, edition_choices
from voltaje.web.jobs.stock import stock_of

NAME_ERRORS = {
    "required": gettext_lazy("Give the part a name."),
    "max_length": gettext_lazy("Too long: at most 80 characters."),
}
DROP_FIELDS = ("drop_scheme", "drop_branch", "drop_total", "drop_sizing", "drop_method", "basis")


class BasedForm(forms.ModelForm):  # type: ignore[type-arg]
    """A form that knows what each field held when its page was made (``was-…``): what another tab
    has changed since is not overwritten unseen. What was left alone here stays as it is kept;
    what both have changed comes back with both texts, and sent again it holds."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.kept = {name: self._text(self.initial.get(name)) for name in self._meta.fields or ()}

    @staticmethod
    def _text(value: Any) -> str:
        return "" if value is None else str(value)

    def was(self) -> list[tuple[str, str]]:
        """The hidden fields: name and text."""
        return [(f"was-{name}", text) for name, text in self.kept.items() if name in self.fields]

    def clean(self) -> dict[str, Any]:
        """Compares what is kept with what the page began with."""
        data = super().clean() or {}
        for name, kept in self.kept.items():
            was, mine = self.data.get(f"was-{name}"), self.data.get(name)
            if was is None or was == kept or mine == kept or name not in self.fields:
                continue
            if mine == was or mine is None:
                data[name] = getattr(self.instance, name)
                self.errors.pop(name, None)
            else:
                shown = dict(getattr(self.fields[name], "choices", ())).get(kept, kept)
                self.add_error(
                    name,
                    gettext(
                        "Another tab has kept “{shown}” here since. Keep it once more to put"
                        " yours in its place."
                    ).format(shown=shown),
                )
        return data


class NameField(forms.CharField):
    """A name: one line of characters that can be printed."""

    default_validators = [intake.plain_name]

    def to_python(self, value: Any) -> str:
        """Without space around it or doubled within."""
        return " ".join((super().to_python(value) or "").split())


class JobForm(BasedForm):
    """Name, code edition and units of a job."""

    edition = forms.ChoiceField(
        label=gettext_lazy("Code edition"), choices=edition_choices, initial="nec-2020"
    )

    second = forms.ChoiceField(
        label=gettext_lazy("Second code"),
        choices=lambda: [("", gettext("none")), *edition_choices()],
        required=False,
        help_text=gettext_lazy("Every sheet then shows both answers beside each other."),
    )

    class Meta:
        model = Job
        fields = (
            "name",
            "edition",
            "second",
            "units",
            "preference",
            "stock",
            "reserve",
            "drop_scheme",
            "drop_branch",
            "drop_total",
            "drop_sizing",
            "drop_method",
            "basis",
        )
        labels = {
            "name": gettext_lazy("Name of the job"),
            "units": gettext_lazy("Default length unit"),
            "preference": gettext_lazy("Device choice"),
            "stock": gettext_lazy("Devices in stock, A (empty: any)"),
            "reserve": gettext_lazy("Reserve, % (next size up within it)"),
            "drop_scheme": gettext_lazy("Voltage drop limit"),
            "drop_branch": gettext_lazy("Own figure for one run, %"),
            "drop_total": gettext_lazy("Own figure in all, %"),
            "drop_sizing": gettext_lazy("Conductors are sized for the drop"),
            "drop_method": gettext_lazy("Voltage drop is calculated"),
            "basis": gettext_lazy("kVA and full-load current of transformers are shown"),
        }
        field_classes = {"name": NameField}
        error_messages = {
            "name": NAME_ERRORS
            | {"required": gettext_lazy("Give the job a name, such as the building’s.")},
            "reserve": {"invalid": RESERVE, "required": RESERVE},
            "drop_branch": {"invalid": OWN_DROP, "required": OWN_DROP},
            "drop_total": {"invalid": OWN_DROP, "required": OWN_DROP},
        }

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        _begin_at(self, "name")
        for field in self.fields.values():
            if isinstance(field, forms.ChoiceField):
                field.choices = _translated(field.choices)
        for name in (*DROP_FIELDS, "reserve"):
            if name in self.fields:
                self.fields[name].required = False

    def clean_stock(self) -> str:
        """Ratings, in order."""
        try:
            return stock_of(self.cleaned_data["stock"])
        except ValueError:
            raise forms.ValidationError(
                gettext("Ratings in A with spaces between, like 15 20 30 60 100.")
            ) from None

    def clean_reserve(self) -> float:
        """Nothing typed is no reserve."""
        return float(self.cleaned_data.get("reserve") or 0.0)

    def clean(self) -> dict[str, Any]:
        """What is not given stays as it is; figures of our own must be given."""
        data = super().clean() or {}
        if data.get("second") and data.get("second") == data.get("edition"):
            self.add_error(
                "second", gettext("This is the job’s own code: choose another, or none.")
            )
        for name in DROP_FIELDS:
            if name in self.fields and name not in self.errors and data.get(name) in (None, ""):
                own = name in ("drop_branch", "drop_total")
                if own and data.get("drop_scheme") == "own" and name in self.data:
                    self.add_error(name, OWN_DROP)
                else:
                    data[name] = getattr(self.instance, name)
        return data


def _translated(choices: Any) -> list[tuple[Any, Any]]:
    """Choices, or groups of them, in the reader's language."""
    return [
        (told(str(value)), _translated(label))
        if isinstance(label, list)
        else (value, told(str(label)))
        for value, label in choices
    ]


def _beginnings() -> list[tuple[str, Any]]:
    """What a job starts with: an example of what people build, or an empty one."""
    shown = [(one.id, one.title, one.holds) for one in BUILDINGS]
    shown += [(name, title, holds) for name, (title, holds) in BEGINNINGS.items()]
    return [
        (name, format_html("<b>{}</b> <small>{}</small>", title, holds))
        for name, title, holds in shown
    ]


def _begin_at(form: forms.BaseForm, name: str) -> None:
    """The hand begins in the first field."""
    form.fields[name].widget.attrs["autofocus"] = True


class NewJobForm(JobForm):
    """A new job: also its supply and what it begins with; its limits wait in the settings. Sent
    twice it makes one job: ``made`` is its id from the page."""

    made = forms.CharField(widget=forms.HiddenInput, required=False)

    class Meta(JobForm.Meta):
        fields = ("name", "edition", "units", "preference")  # type: ignore[assignment]

    second = None  # type: ignore[assignment]  # waits in the settings
    system = forms.ChoiceField(
        label=gettext_lazy("Supply"),
        choices=[(key, item.label) for key, item in SYSTEMS.items()],
        initial="1ph-120/240",
    )
    begins = forms.ChoiceField(
        label=gettext_lazy("Start with"),
        initial="dwelling",
        widget=forms.RadioSelect,
    )
    field_order = ("name", "edition", "begins", "system", "units", "preference")

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["begins"].choices = _beginnings()  # type: ignore[attr-defined]
        self.fields["system"].help_text = format_html(
            '<a href="{}">{}</a>',
            reverse("jobs:adviser"),
            gettext("Single-phase or three-phase? Two questions decide."),
        )

    def clean(self) -> dict[str, Any]:
        """A dwelling needs a supply that dwellings have; an example brings its own."""
        data = super().clean() or {}
        code = code_of(edition(data["edition"]).family) if data.get("edition") else None
        if building(data.get("begins", "")):
            self.errors.pop("system", None)
            return data
        if code is None or data.get("begins") != "dwelling":
            return data
        stands = kind("dwelling").stands_on
        systems = stands(code) if stands else ()
        if data.get("system") not in systems:
            self.add_error(
                "begins",
                gettext(
                    "Under this code a dwelling stands on {systems}: choose such a supply, or begin"
                    " with a board."
                ).format(systems="; ".join(told(SYSTEMS[name].label) for name in systems)),
            )
        return data


class AdviserForm(forms.Form):
    """The two questions that decide on the supply."""

    three_phase = forms.ChoiceField(
        label=gettext_lazy("Is there equipment that runs only on three-phase?"),
        choices=[("no", gettext_lazy("no")), ("yes", gettext_lazy("yes"))],
    )
    load = forms.CharField(
        label=gettext_lazy("All load together"),
        max_length=40,
        help_text=gettext_lazy("like 85 kVA"),
    )
    limit = forms.CharField(
        label=gettext_lazy("The most that the utility gives on single-phase"),
        max_length=40,
        initial="400 A",
    )

    def _read(self, name: str, dimension: quantities.Dimension, low: float, high: float) -> float:
        text = self.cleaned_data[name]
        try:
            value = quantities.read(text, dimension)
        except quantities.UnreadableError as error:
            raise forms.ValidationError(str(error)) from None
        if not low <= value <= high:
            raise forms.ValidationError(
                gettext("Out of range: give {low} to {high}.").format(
                    low=quantities.show(low, dimension), high=quantities.show(high, dimension)
                )
            )
        return value

    def clean_load(self) -> float:
        """kVA."""
        return self._read("load", quantities.SIZE, 100.0, 2e7) / 1000

    def clean_limit(self) -> float:
        """A."""
        return self._read("limit", quantities.CURRENT, 30.0, 2000.0)


class PartForm(BasedForm):
    """A part's name."""

    class Meta:
        model = Part
        fields = ("name",)
        field_classes = {"name": NameField}
        error_messages = {"name": NAME_ERRORS}

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        _begin_at(self, "name")
