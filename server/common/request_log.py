"""Every request of the API in one line of JSON: its identity, method, path, who, status and how long it took.

Never what was asked for in words, what was sent, from where or with what: only what finds a mistake again.
"""

from __future__ import annotations

import time
from pathlib import Path
from typing import Any

import structlog
from django.http import HttpRequest, HttpResponse
from django_structlog.middlewares import RequestMiddleware

HEADER = "X-Request-ID"
# So much in so many files, then the oldest goes.
FILE_BYTES, FILES = 10_000_000, 5
# So many characters of an identity are read out over a telephone.
SAID = 8

_COMMON: list[Any] = [
    structlog.contextvars.merge_contextvars,
    structlog.stdlib.add_logger_name,
    structlog.stdlib.add_log_level,
    structlog.processors.TimeStamper(fmt="iso", utc=True),
]


def request_said() -> str:
    """The identity of the request that is answered, as somebody reads it out; empty outside of one."""
    return str(structlog.contextvars.get_contextvars().get("request_id", ""))[:SAID]


class RequestLog(RequestMiddleware):
    """The package's middleware with a path for an address, and the identity told to whoever asked."""

    def prepare(self, request: HttpRequest) -> None:
        """Before everything else."""
        self._clock(request)
        super().prepare(request)

    def handle_response(self, request: HttpRequest, response: HttpResponse) -> None:
        """After everything else."""
        context = structlog.contextvars.get_contextvars()
        response[HEADER] = context.get("request_id", "")
        # Only where somebody looked already: a log asks the database nothing.
        person = getattr(request, "_cached_user", None)
        took_ms = 1e3 * (time.monotonic() - request._began_s)  # type: ignore[attr-defined]  # set in `prepare`
        structlog.contextvars.bind_contextvars(
            who=None if person is None or person.pk is None else str(person.pk), took_ms=round(took_ms, 1)
        )
        super().handle_response(request, response)

    @staticmethod
    def _clock(request: HttpRequest) -> None:
        request._began_s = time.monotonic()  # type: ignore[attr-defined]  # carried to the end of the request

    @staticmethod
    def format_request(request: HttpRequest) -> str:
        """Without what was searched for."""
        return f"{request.method} {request.path}"


def configure() -> None:
    """Lines of the package through the handlers of the standard library."""
    structlog.configure(
        processors=[
            structlog.stdlib.filter_by_level,
            *_COMMON,
            structlog.processors.format_exc_info,
            structlog.stdlib.ProcessorFormatter.wrap_for_formatter,
        ],
        logger_factory=structlog.stdlib.LoggerFactory(),
        cache_logger_on_first_use=True,
    )


def logging_of(folder: Path, *, to_file: bool) -> dict[str, Any]:
    """Settings of the standard library's logging: errors to standard error, requests and warnings to a file in lines.

    Parameters
    ----------
    folder : of the log. to_file : of a server; tests and the first set-up have none.
    """
    handlers: dict[str, Any] = {
        "stream": {"class": "logging.StreamHandler", "formatter": "line", "level": "ERROR"},
    }
    if to_file:
        handlers["requests"] = {
            # Several processes write it and turn it over.
            "class": "concurrent_log_handler.ConcurrentRotatingFileHandler",
            "filename": str(folder / "requests.jsonl"),
            "maxBytes": FILE_BYTES,
            "backupCount": FILES - 1,
            "formatter": "json",
            "encoding": "utf-8",
        }
    return {
        "version": 1,
        "disable_existing_loggers": False,
        "formatters": {
            "line": {"format": "%(asctime)s %(levelname)s %(name)s %(message)s"},
            "json": {
                "()": structlog.stdlib.ProcessorFormatter,
                "processors": [
                    structlog.stdlib.ProcessorFormatter.remove_processors_meta,
                    structlog.processors.format_exc_info,
                    structlog.processors.JSONRenderer(),
                ],
                "foreign_pre_chain": _COMMON,
            },
        },
        "handlers": handlers,
        "root": {"handlers": list(handlers), "level": "WARNING" if to_file else "ERROR"},
        "loggers": {
            "django_structlog": {"level": "INFO" if to_file else "ERROR"},
            # Its warnings say a second time, without the request's identity, what the request's own line says.
            "django.request": {"level": "ERROR"},
        },
    }
