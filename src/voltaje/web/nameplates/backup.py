"""An account's nameplates in its backup, and which items of its jobs use them."""

from __future__ import annotations

import base64
import binascii
import uuid
from collections.abc import Callable, Mapping, Sequence
from typing import Annotated, Any

from django.core.files.uploadedfile import SimpleUploadedFile
from pydantic import AfterValidator, BaseModel, ConfigDict, Field

from voltaje.core.codes import editions
from voltaje.core.kinds import job_kinds, kind
from voltaje.web.http import intake
from voltaje.web.jobs.models import Job
from voltaje.web.nameplates import library
from voltaje.web.nameplates.models import Nameplate, NameplateUse

KINDS = tuple(of.name for of in job_kinds() if of.nameplate)
BOOKS = tuple(book.id for book in editions())


def _known(names: Sequence[str]) -> AfterValidator:
    def check(text: str) -> str:
        if text not in names:
            raise ValueError(text[:40])
        return text

    return AfterValidator(check)


def _name(text: str) -> str:
    return intake.one_line(text, 80)


Texts = dict[
    Annotated[str, Field(max_length=60)],
    Annotated[str, Field(max_length=library.LONGEST), AfterValidator(intake.text)],
]


class NameplateDoc(BaseModel):
    """A nameplate; its photo in base 64."""

    model_config = ConfigDict(extra="ignore")
    id: Annotated[str, Field(min_length=1, max_length=60)]
    name: Annotated[str, AfterValidator(_name), Field(min_length=1)]
    kind: Annotated[str, _known(KINDS)]
    edition: Annotated[str, _known(BOOKS)]
    entries: Texts
    version: Annotated[int, Field(ge=1, le=1_000_000)]
    photo: Annotated[str, Field(max_length=4_000_000)] = ""


class NameplateUseDoc(BaseModel):
    """An item that uses a nameplate, both by their ids in this document."""

    model_config = ConfigDict(extra="ignore")
    part: Annotated[str, Field(min_length=1, max_length=60)]
    nameplate: Annotated[str, Field(min_length=1, max_length=60)]
    version: Annotated[int, Field(ge=1, le=1_000_000)]
    entries: Texts


def out(owner: Any) -> list[dict[str, Any]]:
    """The nameplates of an account."""
    return [
        {
            "id": str(one.pk),
            "name": one.name,
            "kind": one.kind,
            "edition": one.edition,
            "entries": one.entries,
            "version": one.version,
            "photo": base64.b64encode(bytes(one.photo)).decode(),
        }
        for one in Nameplate.objects.filter(owner=owner)
    ]


def uses_out(job: Job) -> list[dict[str, Any]]:
    """Which items of a job use which."""
    return [
        {
            "part": str(one.part_id),
            "nameplate": str(one.nameplate_id),
            "version": one.version,
            "entries": one.entries,
        }
        for one in job.nameplate_uses.all()
    ]


def read(documents: Any) -> list[NameplateDoc]:
    """The nameplates of a backup. Raises ``ValidationError``."""
    found = documents if isinstance(documents, list) else []
    return [NameplateDoc.model_validate(one) for one in found[: library.MOST]]


def bring(owner: Any, found: Sequence[NameplateDoc]) -> dict[str, Nameplate]:
    """Puts them in beside those that are there; each by its id in the backup."""
    made = {}
    for one in found:
        entries = {
            name: text for name, text in one.entries.items() if name in kind(one.kind).nameplate
        }
        made[one.id] = Nameplate.objects.create(
            owner=owner,
            name=one.name,
            kind=one.kind,
            edition=one.edition,
            entries=entries,
            version=one.version,
            photo=_photo(one.photo),
        )
    return made


def _photo(text: str) -> bytes:
    """A photo is checked like one that is sent; one that is none is left out."""
    try:
        raw = base64.b64decode(text, validate=True)
        return library.photo_of(SimpleUploadedFile("photo", raw)) if raw else b""
    except (binascii.Error, ValueError):
        return b""


def bring_uses(
    job: Job,
    found: Sequence[NameplateUseDoc],
    plates: Mapping[str, Nameplate],
    fresh: Callable[[str], uuid.UUID],
) -> None:
    """Puts in which items use which."""
    for one in {one.part: one for one in found}.values():
        if one.nameplate in plates:
            NameplateUse.objects.create(
                nameplate=plates[one.nameplate],
                job=job,
                part_id=fresh(one.part),
                version=one.version,
                entries=one.entries,
            )
