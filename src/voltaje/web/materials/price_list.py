"""A price list read from a file and written to one, and in an account's backup."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from decimal import Decimal
from typing import Annotated, Any

from django.utils.translation import gettext
from pydantic import BaseModel, ConfigDict, Field

from voltaje.core.materials.pricing import CatalogueRow, PricedLine, PriceError, read_row
from voltaje.web.http.table_files import UnreadableFileError, by_column, uploaded
from voltaje.web.materials.models import PriceList

MOST_ROWS = 3000  # no code figure: rows of a price list
COLUMNS = ("key", "price", "hours", "per", "supplier")
# what a column may be called, in small letters
TITLES = {
    "key": "key",
    "price": "price",
    "unit price": "price",
    "cost": "price",
    "hours": "hours",
    "labor": "hours",
    "labour": "hours",
    "labor hours": "hours",
    "per": "per",
    "unit": "per",
    "supplier": "supplier",
    "vendor": "supplier",
}


def list_of(user: Any) -> PriceList:
    """The account's list; an empty one, not yet kept, where it has none."""
    return PriceList.objects.filter(owner=user).first() or PriceList(owner=user)


def catalogue(kept: PriceList) -> dict[str, CatalogueRow]:
    """The rows as the calculation takes them; one that an older version could read and this one
    cannot is passed over."""
    found = {}
    for key, texts in kept.rows.items():
        try:
            found[key] = read_row({"key": key, **dict(zip(COLUMNS[1:], texts, strict=False))})
        except PriceError:
            continue
    return found


def read_file(upload: Any) -> dict[str, list[str]]:
    """The rows of a CSV or XLSX file by their keys, those with a price or hours. Raises
    :class:`UnreadableFileError`, with the row that cannot be read."""
    found: dict[str, list[str]] = {}
    rows = by_column(uploaded(upload, MOST_ROWS), TITLES, ("key", "price"))
    for number, texts in enumerate(rows, 2):
        if not any(texts.get(name, "").strip() for name in ("price", "hours", "supplier")):
            continue
        try:
            row = read_row(texts)
        except PriceError as error:
            words = gettext("Row {number}: {problem}").format(number=number, problem=error.words)
            raise UnreadableFileError(words) from None
        if row.key in found:
            words = gettext("Row {number}: the key {key} is there twice.")
            raise UnreadableFileError(words.format(number=number, key=row.key))
        found[row.key] = _texts(row)
    if not found:
        raise UnreadableFileError(gettext("No row has a price or hours."))
    return found


def _texts(row: CatalogueRow) -> list[str]:
    return [_text(row.price), _text(row.hours), row.per, row.supplier[:60]]


def _text(value: Decimal | None) -> str:
    return "" if value is None else f"{value:f}"


def as_rows(lines: Iterable[PricedLine], us: bool) -> list[list[str]]:
    """A list to be filled in: every material of an order with what the list has of it."""
    table = [[*COLUMNS, "material"]]
    for one in lines:
        row = one.row
        per = row.per if row else ("ft" if us else "m") if one.line.unit == "m" else "each"
        known = (
            [_text(row.price), _text(row.hours), per, row.supplier] if row else ["", "", per, ""]
        )
        table.append([one.line.key, *known, str(one.line.label)])
    return table


class PriceListDoc(BaseModel):
    """A price list as a backup holds it."""

    model_config = ConfigDict(extra="ignore")
    currency: Annotated[str, Field(max_length=8)]
    rate: Annotated[Decimal, Field(ge=0, le=1_000_000)]
    mark_up: Annotated[Decimal, Field(ge=0, le=1000)]
    rows: Annotated[
        dict[
            Annotated[str, Field(max_length=200)],
            Annotated[list[Annotated[str, Field(max_length=60)]], Field(max_length=4)],
        ],
        Field(max_length=MOST_ROWS),
    ]


def out(owner: Any) -> dict[str, Any] | None:
    """The list as JSON; ``None`` where there is none."""
    kept = PriceList.objects.filter(owner=owner).first()
    if kept is None:
        return None
    return {
        "currency": kept.currency,
        "rate": str(kept.rate),
        "mark_up": str(kept.mark_up),
        "rows": kept.rows,
    }


def read(document: Mapping[str, Any] | None) -> PriceListDoc | None:
    """The list of a backup. Raises ``ValidationError``."""
    return None if document is None else PriceListDoc.model_validate(document)


def bring(owner: Any, found: PriceListDoc | None) -> None:
    """Puts it in: what the account has of its own stays where the backup has nothing."""
    if found is None:
        return
    kept = list_of(owner)
    kept.currency, kept.rate, kept.mark_up = found.currency, found.rate, found.mark_up
    kept.rows = {**kept.rows, **found.rows}
    kept.save()
