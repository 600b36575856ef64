"""The one way in for what people and programs send: text that can be kept, shown, drawn and put
into any file; ids that are ids.

Text is normalised (NFC). What no file or page can hold comes in as something that can be seen:
control characters as their control pictures (``␇`` for the bell), halves of surrogate pairs as
the replacement character. So nothing is lost and nothing breaks later; names refuse such
characters, each named.
"""

from __future__ import annotations

import re
import unicodedata
import uuid
from collections.abc import Callable
from typing import Any

from django.conf import settings
from django.core.exceptions import (
    BadRequest,
    RequestDataTooBig,
    TooManyFieldsSent,
    TooManyFilesSent,
    ValidationError,
)
from django.http import HttpRequest, HttpResponse, JsonResponse, QueryDict
from django.http.multipartparser import MultiPartParserError
from django.utils.http import url_has_allowed_host_and_scheme
from django.utils.translation import gettext

from voltaje.web.http import errors

# C0 and C1 controls, halves of surrogate pairs, what XML cannot hold, and the characters that turn
# the direction of writing around
_ODD = re.compile(
    "[\x00-\x08\x0b-\x1f\x7f-\x9f\u202a-\u202e\u2066-\u2069\ud800-\udfff\ufffe\uffff]"
)
_SEEN = re.compile("[\u2400-\u2421\ufffd]")
_SESSION = re.compile("^[a-z0-9]{20,40}$")
_TAB = re.compile("^[A-Za-z0-9-]{8,32}$")
MOST_TURN = 2**53


def text(raw: str) -> str:
    """The text as it is kept: normalised, and with every character one that can be seen."""
    if raw.isascii() and raw.isprintable():
        return raw
    shown = _ODD.sub(_picture, raw.replace("\r\n", "\n"))
    return unicodedata.normalize("NFC", shown)


def one_line(raw: str, most: int) -> str:
    """The same as one line without space around it, at most so long."""
    return " ".join(text(raw).split())[:most].strip()


def _picture(match: re.Match[str]) -> str:
    code = ord(match.group())
    if code < 0x20:
        return chr(0x2400 + code)
    return "\u2421" if code == 0x7F else "\ufffd"


def plain_name(value: str) -> None:
    """A form's validator: refuses a name with what stands for an invisible character."""
    if found := _SEEN.search(value):
        raise ValidationError(
            gettext(
                "“{found}” stands here for a character that cannot be printed: take it out."
            ).format(found=found.group()),
            "unprintable",
        )


def key(raw: Any) -> uuid.UUID | None:
    """An id in its usual form, ``None`` for anything else."""
    if not isinstance(raw, str) or len(raw) != 36:
        return None
    try:
        found = uuid.UUID(raw)
    except ValueError:
        return None
    return found if str(found) == raw.lower() else None


def turn(posted: QueryDict) -> tuple[str, int]:
    """The tab that sends and the number of its request; ``("", 0)`` where a page has none."""
    tab, number = posted.get("tab", ""), posted.get("turn", "")
    if not _TAB.match(tab) or not number.isascii() or not number.isdigit() or len(number) > 16:
        return "", 0
    return tab, min(int(number), MOST_TURN)


def here(request: HttpRequest, wanted: str) -> str:
    """An address to go on to, if it is one of this program; else ``""``."""
    known = wanted.startswith("/") and url_has_allowed_host_and_scheme(
        wanted, {request.get_host()}, request.is_secure()
    )
    return wanted if known else ""


class Intake:
    """Middleware: what is posted or asked comes in as :func:`text`; what cannot be read at all is
    answered in words, not with a fault."""

    def __init__(self, answer: Callable[[HttpRequest], HttpResponse]) -> None:
        self.answer = answer

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Reads, cleans, hands on."""
        if (too_long := _too_long(request)) is not None:
            return too_long
        for name, value in request.META.items():
            if name.startswith("HTTP_") and isinstance(value, str):
                request.META[name] = _ODD.sub("?", value)
        given = request.META.get("HTTP_AUTHORIZATION", "")
        if not given.isascii():  # a token is plain text, and is read as such
            request.META["HTTP_AUTHORIZATION"] = given.encode("ascii", "replace").decode()
        request.COOKIES = {name: text(value) for name, value in request.COOKIES.items()}
        if not _SESSION.match(request.COOKIES.get(settings.SESSION_COOKIE_NAME, "")):
            request.COOKIES.pop(settings.SESSION_COOKIE_NAME, None)
        try:
            request.GET = _cleaned(request.GET)  # type: ignore[assignment]
            # programs post JSON, which is read elsewhere
            if request.method == "POST" and not request.path.startswith("/api/"):
                request.POST = _cleaned(request.POST)  # type: ignore[assignment]
        except (RequestDataTooBig, TooManyFieldsSent, TooManyFilesSent) as error:
            return errors.too_large(request, error)
        except (
            MultiPartParserError,
            BadRequest,
            UnicodeError,
            ValueError,
        ) as error:
            return errors.bad_request(request, error)
        return self.answer(request)


def _too_long(request: HttpRequest) -> HttpResponse | None:
    """The answer to a body that is longer than any here may be, told by its length alone."""
    try:
        length = int(request.META.get("CONTENT_LENGTH") or 0)
    except ValueError:
        length = 0
    signed_in = settings.SESSION_COOKIE_NAME in request.COOKIES
    backup = signed_in and request.path == "/account/import/"
    if length <= (settings.MOST_BACKUP if backup else settings.MOST_BODY):
        return None
    if request.path.startswith("/api/"):
        words = gettext("The body is too large: at most {most} bytes are taken.")
        return JsonResponse({"detail": words.format(most=settings.MOST_BODY)}, status=413)
    return errors.too_large(request, RequestDataTooBig())


def _cleaned(given: QueryDict) -> QueryDict:
    found = QueryDict(mutable=True)
    for name, values in given.lists():
        found.setlist(text(name), [text(value) for value in values])
    found._mutable = False
    return found
