"""Every address of the API document, as every role, with whatever the document allows and some that it does not."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import requests
import schemathesis
import yaml
from django.conf import settings as project
from django.core.cache import cache
from django.db import transaction
from django.test import tag
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from schemathesis import GenerationMode
from schemathesis.core import NotSet

from accounts.models import Role
from tests.drawn import drawn
from tests.server.base import Json, ServerTest

DOCUMENT = Path(__file__).parents[2] / "server" / "openapi.yaml"
EXAMPLES = drawn(6, 12, usual=2)
LANGUAGES = [code for code, _ in project.LANGUAGES]
# Not asked: a computation that runs for its own time on a record that is there.
LONG = ("/look/", "/spread/", "/choose/", "/compare/", "/sweep/", "/most/", "/least/")


def described() -> Json:
    """The document without its ways of signing in: whoever asks is signed in already."""
    document = yaml.safe_load(DOCUMENT.read_text(encoding="utf-8"))
    document["components"].pop("securitySchemes", None)
    for path in document["paths"].values():
        for operation in path.values():
            operation.pop("security", None)
    return dict(document)


@tag("long")
class Fuzz(ServerTest):
    """Nothing that is sent ends in a server error, or in an answer that the document does not tell of."""

    def setUp(self) -> None:
        super().setUp()
        for client in self.clients.values():
            client.raise_request_exception = False
        self.taken = 0
        self.there = {
            "loops": self.loop.pk,
            "gangs": self.gang.pk,
            "sites": self.site.pk,
            "circuits": self.circuit.pk,
            "accounts": self.people[Role.TECHNICIAN].pk,
        }

    def test_no_server_error_and_no_answer_outside_the_document(self) -> None:
        """Each address of each method, records that are there and that are not; every try is rolled back."""
        document = schemathesis.openapi.from_dict(described())
        asked: dict[str, int] = {}
        for found in document.get_all_operations():
            operation = found.ok()
            cases = operation.as_strategy()
            if operation.path_parameters or operation.query or operation.body:
                cases |= operation.as_strategy(generation_mode=GenerationMode.NEGATIVE)

            @settings(
                max_examples=EXAMPLES,
                derandomize=True,
                database=None,
                deadline=None,
                suppress_health_check=list(HealthCheck),
            )
            @given(
                case=cases,
                role=st.sampled_from(Role.values),
                is_there=st.booleans(),
                spoken=st.sampled_from(LANGUAGES),
            )
            def ask(case: Any, role: str, is_there: bool, spoken: str) -> None:
                first = case.path.split("/")[3]
                if is_there and first in self.there and "id" in (case.path_parameters or {}):
                    if any(part in case.path for part in LONG):
                        return
                    case.path_parameters = {**case.path_parameters, "id": str(self.there[first])}
                self.one(case, role, spoken)
                asked[case.operation.label] = asked.get(case.operation.label, 0) + 1

            with self.subTest(operation.label):
                ask()
        self.assertGreater(len(asked), 180)
        # It reaches what is behind the door.
        self.assertGreater(self.taken, 16 * EXAMPLES)

    def one(self, case: Any, role: str, spoken: str) -> None:
        """Send it, look at the answer, and forget it."""
        cache.clear()
        client = self.clients[role]
        kept = client.cookies.copy()
        sent = {} if isinstance(case.body, NotSet) else {"data": _bytes(case.body)}
        query = requests.models.PreparedRequest()
        query.prepare_url("http://x", case.query or {})
        with transaction.atomic():
            answer = client.generic(
                case.method,
                case.formatted_path,
                content_type=case.media_type or "application/json",
                QUERY_STRING=(query.url or "").partition("?")[2],
                headers={"Accept-Language": spoken},
                **sent,
            )
            body = b"".join(answer.streaming_content) if answer.streaming else answer.content
            transaction.set_rollback(True)
        # Who signed out is signed in again, as the session is.
        client.cookies = kept
        told = f"{role} {spoken} {case.method} {case.formatted_path} {sent}: {answer.status_code} {body[:300]!r}"
        self.taken += answer.status_code < 300
        self.assertTrue(answer.status_code < 500 or answer.status_code == 503, told)
        documented = case.operation.definition.raw["responses"]
        described = documented.get(str(answer.status_code), documented["default"])
        kinds = set(described.get("content", {}))
        kind = answer.get("Content-Type", "").split(";")[0]
        if body:
            self.assertIn(kind, kinds, told)
        if kind.endswith("json") and body:
            json.loads(body)


def _bytes(body: Any) -> bytes:
    return body if isinstance(body, bytes) else json.dumps(body, default=str).encode()
