"""The HTTP API: typed, described by OpenAPI, and closed to everyone who has not signed in."""

from __future__ import annotations

import logging
from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import HttpError, ValidationError
from ninja.operation import Operation
from ninja.parser import Parser
from ninja.security import django_auth
from pydantic_core import from_json

from mellowspine.server.refusals import Refusal

from . import (
    accounts,
    authorities,
    checkup,
    clipboard,
    files,
    happened,
    looks,
    proof,
    reports,
    rooms,
    searching,
    sections,
    sheets,
    tables,
    typefaces,
)

log = logging.getLogger(__name__)


class _Api(NinjaAPI):
    def create_temporal_response(self, request: HttpRequest) -> HttpResponse:
        """What is answered is of this moment, and of whoever asks: nobody on the way keeps it."""
        response = super().create_temporal_response(request)
        response["Cache-Control"] = "no-store"
        return response

    def create_response(self, request: HttpRequest, *given: Any, **more: Any) -> HttpResponse:
        response = super().create_response(request, *given, **more)
        response.setdefault("Cache-Control", "no-store")
        return response

    def get_openapi_operation_id(self, operation: Operation) -> str:
        """Its view's name alone: where the view stands in our code is nobody's concern."""
        return operation.view_func.__name__


class _Strict(Parser):
    """Reads JSON as RFC 8259 has it: no half characters (8.2), no numbers that are none (6)."""

    def parse_body(self, request: HttpRequest) -> Any:
        return from_json(request.body, allow_inf_nan=False)


api = _Api(title="Mellow Spine", version="1", auth=django_auth, docs_url=None, parser=_Strict())
for part in (
    accounts,
    reports,
    rooms,
    sheets,
    looks,
    checkup,
    tables,
    authorities,
    files,
    clipboard,
    searching,
    sections,
    happened,
    proof,
    typefaces,
):
    api.add_router("", part.router)


@api.exception_handler(Refusal)
def refused(request: HttpRequest, refusal: Refusal) -> HttpResponse:
    return api.create_response(request, {"message": str(refusal)}, status=refusal.status)


@api.exception_handler(HttpError)
def unreadable(request: HttpRequest, error: HttpError) -> HttpResponse:
    log.info("A request to %s was not understood: %s", request.path, error)
    message = "The server does not understand this request; load the page again and try once more."
    return api.create_response(request, {"message": message}, status=error.status_code)


@api.exception_handler(ValidationError)
def invalid(request: HttpRequest, error: ValidationError) -> HttpResponse:
    fields = ", ".join(sorted({str(e["loc"][-1]) for e in error.errors}))
    return api.create_response(
        request, {"message": f"Something in the request is missing or wrong: {fields}."}, status=422
    )
