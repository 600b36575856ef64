"""What is done with nameplates: read, corrected, used at items of jobs, brought to the jobs that
used them."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from io import BytesIO
from typing import Any, Literal
from uuid import UUID

from django.db import transaction
from django.utils import timezone
from django.utils.translation import gettext
from PIL import Image, ImageOps, UnidentifiedImageError

from voltaje.core.codes import edition
from voltaje.core.entries import FieldSpec, Problem, fields
from voltaje.core.kinds import Kind, job_kinds, kind
from voltaje.core.report import told
from voltaje.core.rules.context import Context
from voltaje.core.rules.interface import code_of
from voltaje.web.history import revisions
from voltaje.web.history.patch import as_text
from voltaje.web.http import intake
from voltaje.web.jobs import actions
from voltaje.web.jobs.models import Job, Part
from voltaje.web.nameplates.models import Nameplate, NameplateUse

# no code figures: nameplates of an account, bytes and pixels of a photo, px of its longer side as
# kept, its quality, letters of a text
MOST, MOST_BYTES, MOST_PIXELS, SIDE, QUALITY, LONGEST = 300, 12_000_000, 50_000_000, 1600, 85, 200
State = Literal["same", "corrected", "changed", "gone"]


class UnreadablePhotoError(ValueError):
    """No photo that can be kept; ``str()`` says what would be."""


def kinds_with_nameplates(book: str) -> list[Kind]:
    """What can have a nameplate under a code."""
    code = code_of(edition(book).family)
    return [of for of in job_kinds() if of.nameplate and of.covers(code)]


def specs_of(of: Kind, book: str) -> tuple[FieldSpec, ...]:
    """The entries that a nameplate of that kind tells under a code, in the order of its form."""
    model = of.entries_in(code_of(edition(book).family))
    return tuple(spec for spec in fields(model) if spec.name in of.nameplate)


def typed(of: Kind, book: str, given: Mapping[str, Any]) -> dict[str, str]:
    """The texts of a nameplate's entries; what is left empty or as it usually is is left out."""
    found = {}
    for spec in specs_of(of, book):
        text = intake.one_line(as_text(given.get(spec.name, "")), LONGEST)
        if text and text != as_text(spec.default):
            found[spec.name] = text
    return found


def problems(of: Kind, book: str, entries: Mapping[str, str]) -> dict[str, str]:
    """What is wrong with a nameplate's entries, by their names."""
    found: Iterable[Problem] = of.read(dict(entries), Context(edition(book))).problems
    return {one.path: one.words for one in found if one.path in of.nameplate}


def in_words(of: Kind, book: str, entries: Mapping[str, str]) -> str:
    """``15 hp, three-phase, 42 A``: what the nameplate says, in its order."""
    said = []
    for spec in specs_of(of, book):
        text = entries.get(spec.name, "")
        if not text:
            continue
        if spec.kind == "choice":
            said.append(told(dict(spec.choices).get(text, text)).partition(":")[0])
        elif spec.kind == "check":
            said.append(told(spec.label))
        else:  # a bare figure says nothing without its name
            bare = not any(letter.isalpha() for letter in text)
            said.append(f"{told(spec.label)} {text}" if bare else text)
    return ", ".join(said)


# use ----------------------------------------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class Use:
    """An item that uses a nameplate: its job, itself (``None``: it is gone), how it stands to
    it."""

    job: Job
    part: Part | None
    use: NameplateUse
    state: State


def use(job: Job, user: Any, parts: Sequence[Part], plate: Nameplate) -> None:
    """Fills items in by a nameplate, as one revision of their job. Raises
    :class:`~voltaje.web.history.revisions.RefusedError` where one is not there any more."""
    of = kind(plate.kind)
    known = job.entries_of(plate.kind).model_fields
    mine = {name: text for name, text in plate.entries.items() if name in known}
    with transaction.atomic():
        with revisions.changing(job) as held:
            wanted: dict[str, revisions.State] = {}
            for part in parts:
                state = revisions.part_state(actions.part_of(held, str(part.pk)))
                # what the nameplate does not tell is as it usually is
                kept = {n: v for n, v in state["entries"].items() if n not in of.nameplate}
                wanted[str(part.pk)] = {**state, "entries": {**kept, **mine}}
            revisions.write(held, user, wanted)
        for part in parts:
            NameplateUse.objects.update_or_create(
                job=job,
                part_id=part.pk,
                defaults={"nameplate": plate, "version": plate.version, "entries": mine},
            )


def uses_of(plate: Nameplate) -> list[Use]:
    """Where a nameplate is used, job by job."""
    found = []
    jobs: dict[UUID, Job] = {}
    for one in plate.uses.select_related("job").order_by("job__name", "pk"):
        job = jobs.setdefault(one.job_id, one.job)
        part = next((part for part in job.loaded() if part.pk == one.part_id), None)
        found.append(Use(job, part, one, state_of(plate, one, part)))
    return found


def state_of(plate: Nameplate, one: NameplateUse, part: Part | None) -> State:
    """How an item stands to its nameplate: the ``same``; the nameplate was ``corrected`` since; the
    item was ``changed`` on its sheet; it is ``gone``."""
    if part is None or part.kind != plate.kind:
        return "gone"
    model = part.job.entries_of(part.kind)
    usual = {spec.name: as_text(spec.default) for spec in fields(model)}

    def alike(entries: Mapping[str, str]) -> bool:
        return all(
            (as_text(part.entries.get(name, "")) or usual[name])
            == (entries.get(name, "") or usual[name])
            for name in kind(part.kind).nameplate
            if name in usual
        )

    if alike(plate.entries):
        return "same"
    return "corrected" if alike(one.entries) else "changed"


def update(plate: Nameplate, user: Any, wanted: Iterable[str]) -> int:
    """Brings a nameplate as it is now to the uses of these ids; how many items."""
    by_job: dict[UUID, tuple[Job, list[Part]]] = {}
    keys = set(wanted)
    for one in uses_of(plate):
        if str(one.use.pk) in keys and one.part is not None and one.state != "gone":
            by_job.setdefault(one.job.pk, (one.job, []))[1].append(one.part)
    for job, parts in by_job.values():
        use(job, user, parts, plate)
    return sum(len(parts) for _, parts in by_job.values())


def correct(plate: Nameplate, name: str, entries: Mapping[str, str]) -> None:
    """Keeps a nameplate's name and entries; no job is changed by it."""
    if dict(entries) != plate.entries:
        plate.version += 1
    plate.name, plate.entries, plate.changed_at = name, dict(entries), timezone.now()
    plate.save()


# photos -------------------------------------------------------------------------------------------


def photo_of(upload: Any) -> bytes:
    """A photo as it is kept: upright, small, as JPEG without any data of place, time or camera.
    Raises :class:`UnreadablePhotoError`."""
    words = gettext("A photo as JPEG, PNG or WebP, of up to {most} MB.").format(
        most=MOST_BYTES // 1_000_000
    )
    if upload.size > MOST_BYTES:
        raise UnreadablePhotoError(words)
    try:
        with Image.open(upload, formats=("JPEG", "PNG", "WEBP")) as image:
            if image.width * image.height > MOST_PIXELS:
                raise UnreadablePhotoError(
                    gettext("The photo has too many pixels: make it smaller.")
                )
            image.draft("RGB", (SIDE, SIDE))  # a JPEG is read in small at once
            made = ImageOps.exif_transpose(image).convert("RGB")
    except UnreadablePhotoError:
        raise
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        raise UnreadablePhotoError(words) from None
    made.thumbnail((SIDE, SIDE))
    plain = Image.new("RGB", made.size)
    plain.paste(made)
    out = BytesIO()
    plain.save(out, "JPEG", quality=QUALITY, optimize=True)
    return out.getvalue()
