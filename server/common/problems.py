"""Every API error leaves through here as problem+json: code, path, parameters and words."""

from __future__ import annotations

import errno
import sys
from collections.abc import Iterable, Mapping
from typing import Any

from django.conf import settings
from django.core.exceptions import ObjectDoesNotExist, PermissionDenied, RequestDataTooBig
from django.db import DatabaseError, InterfaceError, InternalError, OperationalError
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.views.defaults import server_error
from rest_framework import exceptions
from rest_framework.response import Response

from common.request_log import request_said
from ember_core.errors import EmberError, InputErrors, SolverError
from wording.texts import error_text

Json = dict[str, Any]
# After this time it is worth asking again; after the other, where somebody has to make room first.
RETRY_AFTER_S = "2"
RETRY_WHEN_FULL_S = "30"
# What the database says of a disk that is full: the disk, a table that cannot grow, and the system's own error.
FULL_TABLE, FULL_DISK, OF_SYSTEM = 1114, 1021, 1030
CONTENT_TYPE = "application/problem+json"


class Problem(Exception):
    """A refusal that a service raises: status, code, and what else the caller needs."""

    def __init__(self, status: int, code: str, *, path: str = "", extra: Json | None = None, **params: Any) -> None:
        self.status = status
        self.code = code
        self.path = path
        self.extra = extra or {}
        self.params = params
        super().__init__(code)


class StaleVersion(Problem):
    """Someone else wrote in the meantime; both states are given, nothing was changed."""

    def __init__(self, *, yours: int, current_version: int, current: Json) -> None:
        super().__init__(409, "stale_version", extra={"current": current}, yours=yours, current_version=current_version)


def problem_body(status: int, code: str, errors: Iterable[Mapping[str, Any]], extra: Json | None = None) -> Json:
    """The body of an error answer."""
    entries = [
        {
            "code": entry["code"],
            "path": entry.get("path", ""),
            "params": dict(entry.get("params", {})),
            "text": error_text(entry["code"], entry.get("params", {})),
        }
        for entry in errors
    ]
    return {
        "type": f"urn:ember-thread:problem:{code}",
        "title": entries[0]["text"] if entries else error_text(code, {}),
        "status": status,
        "code": code,
        "errors": entries,
        **(extra or {}),
    }


def as_problem(error: Exception, context: Mapping[str, Any]) -> Response | None:
    """The framework's exception handler; None hands an unexpected error on to the 500 page."""
    status, code, errors, extra = _describe(error)
    if status is None:
        return None
    headers = {"Retry-After": RETRY_WHEN_FULL_S if code == "disk_full" else RETRY_AFTER_S} if status == 503 else {}
    if isinstance(error, exceptions.APIException):
        if auth_header := getattr(error, "auth_header", None):
            headers["WWW-Authenticate"] = auth_header
        if wait_s := getattr(error, "wait", None):
            headers["Retry-After"] = str(int(wait_s) + 1)
    return Response(
        problem_body(status, code, errors, extra), status=status, headers=headers, content_type=CONTENT_TYPE
    )


def is_disk_full(error: Exception) -> bool:
    """Whether it went wrong for want of room, in the database or where photographs are kept."""
    if isinstance(error, OperationalError | InternalError):
        number, words = (*error.args, "", "")[:2]
        return number in (FULL_TABLE, FULL_DISK) or (number == OF_SYSTEM and f"error {errno.ENOSPC} " in str(words))
    return isinstance(error, OSError) and error.errno in (errno.ENOSPC, errno.EDQUOT)


def _describe(error: Exception) -> tuple[int | None, str, list[Json], Json]:
    if isinstance(error, Problem):
        return error.status, error.code, [{"code": error.code, "path": error.path, "params": error.params}], error.extra
    if isinstance(error, InputErrors):
        return 422, "invalid_sheet", [_entry(one) for one in error.errors], {}
    if isinstance(error, SolverError):
        return 422, "not_solved", [_entry(error)], {}
    if is_disk_full(error):
        return 503, "disk_full", [{"code": "disk_full"}], {}
    if isinstance(error, OperationalError | InterfaceError):
        # Locks of others, after a second try; or the database is away for a moment.
        return 503, "busy", [{"code": "busy"}], {}
    if isinstance(error, EmberError):
        return 422, "invalid_sheet", [_entry(error)], {}
    if isinstance(error, RequestDataTooBig):
        most = settings.DATA_UPLOAD_MAX_MEMORY_SIZE // 1_000_000
        return 413, "body_too_large", [{"code": "body_too_large", "params": {"most": most}}], {}
    if isinstance(error, exceptions.ValidationError):
        return 400, "invalid", list(_flatten(error.detail, "")), {}
    if isinstance(error, Http404 | exceptions.NotFound | ObjectDoesNotExist):
        # Also what was there a moment ago.
        return 404, "not_found", [{"code": "not_found"}], {}
    if isinstance(error, PermissionDenied | exceptions.PermissionDenied):
        code = "csrf_failed" if "CSRF" in str(error) else "not_allowed"
        return 403, code, [{"code": code}], {}
    if isinstance(error, exceptions.APIException):
        code = {401: "sign_in_first", 405: "method_not_allowed", 415: "send_json", 429: "too_many_requests"}.get(
            error.status_code, "bad_request"
        )
        return error.status_code, code, [{"code": code}], {}
    return None, "", [], {}


def _entry(error: EmberError) -> Json:
    return {"code": error.code, "path": error.path, "params": error.params}


def _flatten(detail: Any, path: str) -> Iterable[Json]:
    """Field errors of a serializer with their paths."""
    if isinstance(detail, dict):
        for key, value in detail.items():
            yield from _flatten(value, f"{path}.{key}" if path else str(key))
    elif isinstance(detail, list):
        for index, value in enumerate(detail):
            inner = f"{path}[{index}]" if isinstance(value, dict | list) else path
            yield from _flatten(value, inner)
    else:
        code = str(getattr(detail, "code", "invalid"))
        yield {"code": f"field_{code}", "path": path, "params": {"message": str(detail)}}


def not_found(request: HttpRequest) -> JsonResponse:
    """404 below /api."""
    body = problem_body(404, "not_found", [{"code": "not_found"}])
    return JsonResponse(body, status=404, content_type=CONTENT_TYPE)


def not_read(request: HttpRequest, error: Exception) -> JsonResponse:
    """400 for a request that was refused before any view."""
    status, code, errors, _ = _describe(error)
    body = problem_body(status or 400, code or "bad_request", errors or [{"code": "bad_request"}])
    return JsonResponse(body, status=status or 400, content_type=CONTENT_TYPE)


def broken(request: HttpRequest) -> HttpResponse:
    """500: a problem where a program asked, a page where a person did; 503 where the database is away or full."""
    if not request.path.startswith("/api/"):
        return server_error(request)
    # What went wrong before or after the view, as where a session is read.
    error = sys.exc_info()[1]
    known = as_problem(error, {}) if isinstance(error, DatabaseError | InterfaceError | OSError) else None
    if known is not None:
        answer = JsonResponse(known.data, status=known.status_code, content_type=CONTENT_TYPE)
        answer["Retry-After"] = known["Retry-After"]
        return answer
    body = problem_body(500, "broken", [{"code": "broken", "params": {"request": request_said()}}])
    return JsonResponse(body, status=500, content_type=CONTENT_TYPE)


def locked_out(request: HttpRequest, *details: object) -> JsonResponse:
    """403 for a name that was tried with too many wrong passwords."""
    body = problem_body(403, "locked_out", [{"code": "locked_out"}])
    return JsonResponse(body, status=403, content_type=CONTENT_TYPE)


def csrf_failure(request: HttpRequest, reason: str = "") -> JsonResponse:
    """403 for a request without the CSRF token."""
    body = problem_body(403, "csrf_failed", [{"code": "csrf_failed"}])
    return JsonResponse(body, status=403, content_type=CONTENT_TYPE)
