"""The one HTML page: the built interface, for every address that is not the API's."""

from __future__ import annotations

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie

MISSING = (
    "<!doctype html><title>Ember Thread</title><p>The web interface is not built. Run ./ember demo or ./ember start."
)


@never_cache
@ensure_csrf_cookie
def interface(request: HttpRequest) -> HttpResponse:
    """The interface's page; its scripts decide by the address what to show."""
    page = settings.WEB_DIST / "index.html"
    if not page.exists():
        return HttpResponse(MISSING, status=503)
    return HttpResponse(page.read_text(encoding="utf-8"))
