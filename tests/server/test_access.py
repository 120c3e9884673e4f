"""Who gets in, and who may do what."""

from __future__ import annotations

import re

from django.test import Client, override_settings, tag
from django.urls import get_resolver
from rest_framework.test import APIClient

from accounts.models import Role, User
from accounts.policy import GIVEN, POLICY, may
from tests.server.base import ServerTest, draft


def api_addresses() -> list[str]:
    """Every address of the API, with an identifier filled in."""
    found = []
    for entry in get_resolver().url_patterns[0].url_patterns:
        address = re.sub(r"<uuid:pk>", "00000000-0000-4000-8000-000000000000", str(entry.pattern))
        address = address.replace(r"^parts\.(?P<form>csv|json)$", "parts.csv")
        found.append("/api/v1/" + address.replace(r"^lists/(?P<name>[a-z]+)\.csv$", "lists/cases.csv"))
    return found


class WithoutSession(ServerTest):
    """Nothing but health and sign-in."""

    def test_every_other_address_answers_401(self) -> None:
        """Reading and writing alike, as problem+json."""
        anyone = APIClient()
        open_to_all = {"/api/v1/health/", "/api/v1/session/"}
        addresses = api_addresses()
        self.assertGreater(len(addresses), 15)
        for address in addresses:
            if address in open_to_all:
                continue
            for method in ("get", "post", "put", "patch", "delete"):
                answer = getattr(anyone, method)(address)
                self.assertEqual(answer.status_code, 401, f"{method} {address}")

    def test_health_names_every_part(self) -> None:
        """Database and core are really used."""
        answer = APIClient().get("/api/v1/health/").json()
        self.assertEqual((answer["status"], answer["database"], answer["core"]), ("ok", "ok", "ok"))

    def test_unknown_addresses_below_api_are_problems_not_pages(self) -> None:
        """A typing error in an address gets JSON."""
        answer = APIClient().get("/api/v1/nothing/")
        self.assertEqual((answer.status_code, answer["Content-Type"]), (404, "application/problem+json"))


class SigningIn(ServerTest):
    """Name and password."""

    def setUp(self) -> None:
        super().setUp()
        self.person = User.objects.create(username="wren", role=Role.TECHNICIAN)
        self.person.set_password("a long enough one")
        self.person.save()

    def sign_in(self, client: Client, password: str) -> int:
        """Post the two; returns the status."""
        return client.post(
            "/api/v1/session/", {"username": "wren", "password": password}, content_type="application/json"
        ).status_code

    def test_right_password_opens_a_session_and_signing_out_ends_it(self) -> None:
        """And the session then says who it is."""
        client = Client()
        self.assertEqual(self.sign_in(client, "a long enough one"), 200)
        self.assertEqual(client.get("/api/v1/session/").json()["user"]["username"], "wren")
        self.assertIsNone(client.delete("/api/v1/session/").json()["user"])
        self.assertIsNone(client.get("/api/v1/session/").json()["user"])

    @tag("long")
    def test_wrong_passwords_are_refused_and_then_locked_out(self) -> None:
        """After ten of them even the right one waits."""
        client = Client()
        for _ in range(9):
            self.assertEqual(self.sign_in(client, "wrong"), 403)
        self.sign_in(client, "wrong")
        answer = client.post(
            "/api/v1/session/",
            {"username": "wren", "password": "a long enough one"},
            content_type="application/json",
        )
        self.assertEqual((answer.status_code, answer.json()["code"]), (403, "locked_out"))

    def test_a_write_without_the_token_is_refused(self) -> None:
        """Cross-site requests carry the cookie but not the token."""
        client = Client(enforce_csrf_checks=True)
        client.force_login(self.person)
        answer = client.post("/api/v1/sites/", {"name": "x"}, content_type="application/json")
        self.assertEqual((answer.status_code, answer.json()["code"]), (403, "csrf_failed"))

    def test_passwords_are_kept_with_argon2(self) -> None:
        """And never in clear."""
        self.assertTrue(self.person.password.startswith("argon2"))

    def test_demo_accounts_show_only_in_the_demo(self) -> None:
        """Elsewhere there is no default password."""
        with override_settings(DEMO=False):
            self.assertEqual(APIClient().get("/api/v1/session/").json()["demo_accounts"], [])
        with override_settings(DEMO=True):
            self.assertEqual(len(APIClient().get("/api/v1/session/").json()["demo_accounts"]), 4)


class Roles(ServerTest):
    """User by action."""

    def test_the_policy_covers_every_role_and_action(self) -> None:
        """The whole matrix, written out."""
        allowed = {
            (role, action) for role in Role.values for action in POLICY if may(User(username="x", role=role), action)
        }
        every = {"read", "judge"}
        technician = every | {"edit", "archive"}
        checker = every | {"release", "trail", "sign_off"}
        administrator = technician | checker | {"sites", "shelf", "accounts", "rules"}
        roles = {"technician": technician, "checker": checker, "administrator": administrator}
        self.assertEqual(allowed, {(role, action) for role, actions in roles.items() for action in actions})

    def test_sites_and_shelf_are_given_to_single_technicians(self) -> None:
        """One by one, and to nobody who changes nothing."""
        for action, given in GIVEN.items():
            self.assertTrue(may(User(role=Role.TECHNICIAN, **{given: True}), action))
            self.assertFalse(may(User(role=Role.TECHNICIAN), action))
            self.assertFalse(may(User(role=Role.CHECKER, **{given: True}), action))

    def test_a_checker_reads_and_tries_but_keeps_nothing(self) -> None:
        """Over the API, not only in the table."""
        checker = self.clients[Role.CHECKER]
        self.assertEqual(checker.get("/api/v1/loops/").status_code, 200)
        tried = checker.post(f"/api/v1/gangs/{self.gang.pk}/judge/", draft(), format="json")
        self.assertEqual(tried.status_code, 200)
        kept = checker.put(f"/api/v1/gangs/{self.gang.pk}/", {"version": 1, **draft()}, format="json")
        self.assertEqual(kept.status_code, 403)
        self.gang.refresh_from_db()
        self.assertEqual(self.gang.version, 1)


class Pages(ServerTest):
    """The interface's page."""

    def test_the_page_allows_no_inline_script(self) -> None:
        """The policy that the browser gets says so, and the page has none."""
        answer = Client().get("/loops/anything")
        policy = answer["Content-Security-Policy"]
        self.assertIn("script-src 'self'", policy)
        self.assertNotIn("'unsafe-inline'", policy.split("script-src")[1].split(";")[0])
        for script in re.findall(r"<script[^>]*>(.*?)</script>", answer.content.decode(), re.S):
            self.assertEqual(script.strip(), "")
