"""The program's side of a sheet: the same JSON as ``voltaje sheet``. See docs/api.md."""

from __future__ import annotations

from typing import Any

from django.http import Http404, HttpResponse, JsonResponse
from django.shortcuts import render
from django.utils.translation import gettext
from django.views.decorators.http import require_GET
from drf_spectacular.utils import OpenApiParameter, OpenApiResponse, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from voltaje.core.cli.sheet import report
from voltaje.core.codes import NotCoveredError, code_edition, editions
from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.entries import schema
from voltaje.core.kinds import Context, Kind, evaluate, kind, kinds
from voltaje.core.rules.context import supplied
from voltaje.core.rules.interface import code_of
from voltaje.web.api.reference import references, written
from voltaje.web.http.requests import Request as PageRequest
from voltaje.web.parts.answers import MOST_ASKED, as_json, ask

OBJECT: Any = {"type": "object"}
CODE = OpenApiParameter(
    "code", str, description="Code edition.", enum=[e.id for e in editions()], default="nec-2020"
)
SYSTEM = OpenApiParameter(
    "system", str, description="Supply system.", enum=list(SYSTEMS), default="1ph-120/240"
)
UNITS = OpenApiParameter(
    "units",
    str,
    description="What bare lengths and areas are in: us feet, metric metres.",
    enum=["us", "metric"],
    default="us",
)
DETAIL = OpenApiResponse(OBJECT, "An unknown code, system or units, in words under ``detail``.")
PROBLEMS = OpenApiResponse({"$ref": "#/components/schemas/Problems"}, "The entries have problems.")


@require_GET
def openapi(request: PageRequest) -> HttpResponse:
    """The description of all addresses, for programs that read one."""
    return JsonResponse(written())


@require_GET
def reference(request: PageRequest) -> HttpResponse:
    """The same as a page: each kind with its entries and its results."""
    return render(request, "api/reference.html", {"references": references()})


def _kind(name: str) -> Kind:
    try:
        return kind(name)
    except KeyError as error:
        raise Http404 from error


class SheetList(APIView):
    """The kinds of part and the code editions."""

    @extend_schema(operation_id="sheets", summary="Kinds and editions", responses={200: OBJECT})
    def get(self, request: Request) -> Response:
        """Names and labels."""
        return Response(
            {
                "kinds": [{"name": item.name, "label": item.label} for item in kinds()],
                "codes": [item.id for item in editions()],
            }
        )


QUESTION = OpenApiParameter("q", str, required=True, description="The question, like 20 hp 460 V.")


class Ask(APIView):
    """A question answered by a table or a sheet."""

    @extend_schema(
        operation_id="ask",
        summary="Answer a question",
        parameters=[QUESTION],
        responses={200: OBJECT, 400: DETAIL},
    )
    def get(self, request: Request) -> Response:
        """Its answers, the best first, and which of its words were understood."""
        asked = request.query_params.get("q", "").strip()
        if not asked or len(asked) > MOST_ASKED:
            words = gettext("Give a question of 1 to {most} characters as q, like 20 hp 460 V.")
            return Response({"detail": words.format(most=MOST_ASKED)}, status=400)
        return Response(as_json(asked, ask(asked)))


class Sheet(APIView):
    """One kind of part, worked from posted entries."""

    @extend_schema(
        parameters=[CODE, SYSTEM, UNITS],
        request={"application/json": OBJECT},
        responses={200: OBJECT, 400: DETAIL, 422: PROBLEMS},
    )
    def post(self, request: Request, name: str) -> Response:
        """200 with the worksheet; 422 with the problems; 400 for an unknown code or system."""
        of = _kind(name)
        query = request.query_params
        units: Any = query.get("units", "us")
        system = query.get("system", "1ph-120/240")
        try:
            code = code_edition(query.get("code", "nec-2020"))
        except NotCoveredError as error:
            return Response({"detail": str(error)}, status=400)
        if system not in SYSTEMS or units not in ("us", "metric"):
            words = f"system: one of {', '.join(SYSTEMS)}; units: us or metric"
            return Response({"detail": words}, status=400)
        found = report(
            evaluate(of, request.data, Context(code, units, supplied(SYSTEMS[system], code)))
        )
        return Response(found, status=200 if found["ok"] else 422)


class SheetSchema(APIView):
    """What a kind's entries hold."""

    @extend_schema(
        operation_id="schema",
        summary="JSON schema of a kind's entries",
        parameters=[CODE],
        responses={200: OBJECT, 400: DETAIL},
    )
    def get(self, request: Request, name: str) -> Response:
        """The JSON schema, under the code that is asked for."""
        try:
            code = code_edition(request.query_params.get("code", "nec-2020"))
        except NotCoveredError as error:
            return Response({"detail": str(error)}, status=400)
        return Response(schema(_kind(name).entries_in(code_of(code.family))))
