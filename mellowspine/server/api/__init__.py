"""The HTTP API: typed, described by OpenAPI, and closed to everyone who has not signed in."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import ValidationError
from ninja.operation import Operation
from ninja.security import django_auth

from mellowspine.server.refusals import Refusal

from . import accounts, checkup, files, looks, reports, rooms, sheets, tables


class _Api(NinjaAPI):
    def get_openapi_operation_id(self, operation: Operation) -> str:
        """Its view's name alone: where the view stands in our code is nobody's concern."""
        return operation.view_func.__name__


api = _Api(title="Mellow Spine", version="1", auth=django_auth, docs_url=None)
for part in (accounts, reports, rooms, sheets, looks, checkup, tables, files):
    api.add_router("", part.router)


@api.exception_handler(Refusal)
def refused(request: HttpRequest, refusal: Refusal) -> HttpResponse:
    return api.create_response(request, {"message": str(refusal)}, status=refusal.status)


@api.exception_handler(ValidationError)
def invalid(request: HttpRequest, error: ValidationError) -> HttpResponse:
    fields = ", ".join(sorted({str(e["loc"][-1]) for e in error.errors}))
    return api.create_response(
        request, {"message": f"Something in the request is missing or wrong: {fields}."}, status=422
    )
