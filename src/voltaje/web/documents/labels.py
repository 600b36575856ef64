"""Labels of a job on sheets of labels: boards, transformers, circuits, each with a code to scan
that opens the item."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from io import BytesIO
from typing import Any

from django import forms
from django.contrib.auth.decorators import login_required
from django.http import HttpResponse
from django.shortcuts import render
from django.urls import reverse
from django.utils import timezone
from django.utils.text import slugify
from django.utils.translation import gettext, gettext_lazy
from django.views.decorators.http import require_GET
from reportlab.graphics import renderPDF
from reportlab.graphics.barcode.qr import QrCodeWidget
from reportlab.graphics.shapes import Drawing
from reportlab.lib.pagesizes import A4, letter
from reportlab.lib.units import mm
from reportlab.pdfbase.pdfmetrics import stringWidth
from reportlab.pdfgen.canvas import Canvas

from voltaje.core.job.labels import LABELS, ItemLabel, LabelledItem, labels
from voltaje.web.drawings.paper import BOLD, PLAIN, fonts
from voltaje.web.http.requests import Request
from voltaje.web.jobs.models import Job
from voltaje.web.jobs.views import own_job
from voltaje.web.jobs.worked import work_job


@dataclass(frozen=True, slots=True)
class LabelSheet:
    """A sheet of labels: its paper, how many across and down, a label's size, where the first one
    begins, the gap between columns; in mm, as such sheets are commonly made."""

    words: Any
    paper: tuple[float, float]
    across: int
    down: int
    width: float
    height: float
    left: float
    top: float
    gap: float = 0.0

    @property
    def count(self) -> int:
        return self.across * self.down


SHEETS: Mapping[str, LabelSheet] = {
    "letter-30": LabelSheet(
        gettext_lazy("letter, 30 labels of 67 × 25 mm"), letter, 3, 10, 66.7, 25.4, 4.8, 12.7, 3.2
    ),
    "letter-10": LabelSheet(
        gettext_lazy("letter, 10 labels of 102 × 51 mm"), letter, 2, 5, 101.6, 50.8, 4.0, 12.7, 4.8
    ),
    "a4-24": LabelSheet(
        gettext_lazy("A4, 24 labels of 70 × 37 mm"), A4, 3, 8, 70.0, 37.0, 0.0, 0.5
    ),
    "a4-8": LabelSheet(
        gettext_lazy("A4, 8 labels of 105 × 74 mm"), A4, 2, 4, 105.0, 74.0, 0.0, 0.5
    ),
}
# no code figures: a label's margin, mm; the largest code to scan, mm; type of title and lines at
# most and at least, points
EDGE, CODE, TITLE, LINE, LEAST = 2.5, 24.0, 10.0, 7.5, 5.0


class LabelsForm(forms.Form):
    """Which labels, on which sheet, from which place on."""

    of = forms.MultipleChoiceField(
        label=gettext_lazy("Labels for"),
        choices=lambda: [(name, str(words)) for name, words in LABELS.items()],
        widget=forms.CheckboxSelectMultiple,
        error_messages={"required": gettext_lazy("Choose at least one.")},
    )
    sheet = forms.ChoiceField(
        label=gettext_lazy("Sheet of labels"),
        choices=[(name, one.words) for name, one in SHEETS.items()],
    )
    start = forms.IntegerField(
        label=gettext_lazy("First free label on the sheet"), min_value=1, max_value=30, initial=1
    )
    code = forms.BooleanField(
        label=gettext_lazy("With a code to scan that opens the item"), required=False, initial=True
    )

    def clean(self) -> dict[str, Any]:
        """A place that the sheet has."""
        data = super().clean() or {}
        sheet, start = SHEETS.get(data.get("sheet", "")), data.get("start")
        if sheet is not None and start and start > sheet.count:
            words = gettext("This sheet has {count} labels.").format(count=sheet.count)
            self.add_error("start", words)
        return data


@login_required
@require_GET
def label_sheets(request: Request, job_id: Any) -> HttpResponse:
    """The form; with ``make`` the labels as PDF."""
    job = own_job(request, job_id)
    usual = "letter-30" if job.units == "us" else "a4-24"
    if "make" not in request.GET:
        form = LabelsForm(initial={"of": ["board", "transformer"], "sheet": usual})
        return render(request, "documents/labels.html", {"job": job, "form": form})
    form = LabelsForm(request.GET)
    nothing = False
    if form.is_valid():
        today = timezone.localdate().isoformat()
        made = [one for one in labels_of(job, today) if one.of in form.cleaned_data["of"]]
        if made:
            return _as_file(request, job, made, form.cleaned_data)
        nothing = True
    context = {"job": job, "form": form, "nothing": nothing}
    return render(request, "documents/labels.html", context, status=422)


def labels_of(job: Job, date: str) -> tuple[ItemLabel, ...]:
    """All labels of a job; ``date`` of their fault currents."""
    items = [
        LabelledItem(str(part.pk), part.name, str(part.parent_id) if part.parent_id else "")
        for part in job.loaded()
    ]
    return labels(items, work_job(job), date)


def _as_file(
    request: Request, job: Job, made: Sequence[ItemLabel], chosen: Mapping[str, Any]
) -> HttpResponse:
    addresses = {
        one.item: request.build_absolute_uri(reverse("jobs:on_site", args=[job.pk, one.item]))
        for one in made
    }
    sheet = SHEETS[chosen["sheet"]]
    title = gettext("{name}: labels").format(name=job.name)
    content = to_pdf(made, sheet, chosen["start"], addresses if chosen["code"] else {}, title)
    response = HttpResponse(content, "application/pdf")
    name = slugify(job.name) or "job"
    response["Content-Disposition"] = f'attachment; filename="{name}-labels-r{job.revision}.pdf"'
    return response


def to_pdf(
    made: Sequence[ItemLabel],
    sheet: LabelSheet,
    start: int,
    addresses: Mapping[str, str],
    title: str,
) -> bytes:
    """The labels on their sheets, the first at place ``start``; with a code to scan where an item
    has an address."""
    fonts()
    out = BytesIO()
    canvas = Canvas(out, pagesize=sheet.paper, pageCompression=1)
    canvas.setTitle(title)
    for number, one in enumerate(made, start - 1):
        place = number % sheet.count
        if number >= sheet.count and not place:
            canvas.showPage()
        row, column = divmod(place, sheet.across)
        x = (sheet.left + column * (sheet.width + sheet.gap)) * mm
        y = sheet.paper[1] - (sheet.top + (row + 1) * sheet.height) * mm
        _draw(
            canvas, one, (x, y), (sheet.width * mm, sheet.height * mm), addresses.get(one.item, "")
        )
    canvas.save()
    return out.getvalue()


def _draw(
    canvas: Canvas,
    one: ItemLabel,
    corner: tuple[float, float],
    size: tuple[float, float],
    address: str,
) -> None:
    """A label in its rectangle: the title, the lines under it, the code at the right."""
    (x, y), (width, height), edge = corner, size, EDGE * mm
    room = width - 2 * edge
    if address:
        side = min(CODE * mm, height - 2 * edge)
        _code(canvas, address, x + width - edge - side, y + (height - side) / 2, side)
        room -= side + edge
    texts = [(one.title, BOLD, TITLE), *((str(line), PLAIN, LINE) for line in one.lines)]
    step = min(1.35 * LINE, (height - 2 * edge) / (len(texts) + 0.3))
    at = y + height - edge - 0.9 * step
    for text, font, most in texts:
        fitted, points = _fitted(text, font, min(most, step), room)
        canvas.setFont(font, points)
        canvas.drawString(x + edge, at, fitted)
        at -= step


def _fitted(text: str, font: str, most: float, room: float) -> tuple[str, float]:
    """A text in the room that there is: in smaller type, and where that is not enough cut with
    dots."""
    points = most
    while points > LEAST and stringWidth(text, font, points) > room:
        points -= 0.25
    if stringWidth(text, font, points) <= room:
        return text, points
    while text and stringWidth(text + "…", font, points) > room:
        text = text[:-1]
    return text.rstrip() + "…", points


def _code(canvas: Canvas, address: str, x: float, y: float, side: float) -> None:
    """A code to scan, ``side`` points wide."""
    widget = QrCodeWidget(address, barLevel="M")
    left, bottom, right, top = widget.getBounds()
    scale = side / max(right - left, top - bottom)
    drawing = Drawing(side, side, transform=[scale, 0, 0, scale, -left * scale, -bottom * scale])
    drawing.add(widget)
    renderPDF.draw(drawing, canvas, x, y)
