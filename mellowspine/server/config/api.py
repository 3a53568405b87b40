"""The HTTP API: typed, described by OpenAPI, and closed to everyone who has not signed in."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import ValidationError
from ninja.security import django_auth

from mellowspine.server.accounts.api import router as accounts
from mellowspine.server.files.api import router as files
from mellowspine.server.refusals import Refusal
from mellowspine.server.rooms.api import router as rooms
from mellowspine.server.shelf.api import router as shelf

api = NinjaAPI(title="Mellow Spine", version="1", auth=django_auth, docs_url=None)
api.add_router("", accounts)
api.add_router("", shelf)
api.add_router("", rooms)
api.add_router("", files)


@api.exception_handler(Refusal)
def refused(request: HttpRequest, refusal: Refusal) -> HttpResponse:
    return api.create_response(request, {"message": str(refusal)}, status=refusal.status)


@api.exception_handler(ValidationError)
def invalid(request: HttpRequest, error: ValidationError) -> HttpResponse:
    fields = ", ".join(sorted({str(e["loc"][-1]) for e in error.errors}))
    return api.create_response(
        request, {"message": f"Something in the request is missing or wrong: {fields}."}, status=422
    )
