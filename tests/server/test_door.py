"""What comes in as JSON: refused in words where no record could hold it, whatever the address."""

from __future__ import annotations

import json
from unittest.mock import patch

from tests.server.base import ServerTest

BAD = {
    "half a character": '{"name": "a\\ud800b", "v_rms": 230, "f_hz": 50}',
    "a word for a number": '{"name": "a", "v_rms": NaN, "f_hz": 50}',
    "four hundred digits": '{"name": "a", "v_rms": ' + "9" * 400 + ', "f_hz": 50}',
    "endless depth": '{"name": ' + "[" * 5000 + "]" * 5000 + "}",
    "a little too deep": '{"name": ' + "[" * 45 + "]" * 45 + "}",
    "no JSON": "{",
}


class Door(ServerTest):
    """One address stands for all: the parser is the application's."""

    def send(self, body: str | bytes) -> tuple[int, str]:
        """Status and code of making a site."""
        answer = self.api.post("/api/v1/sites/", body, content_type="application/json")
        return answer.status_code, answer.json().get("code", "")

    def test_what_no_record_could_hold_is_a_bad_request(self) -> None:
        """In problem form, never a 500."""
        for name, body in BAD.items():
            with self.subTest(name):
                self.assertEqual(self.send(body), (400, "bad_request"))
        self.assertEqual(self.send(b'{"name": "\xff"}'), (400, "bad_request"))

    def test_whole_characters_and_brackets_in_text_pass(self) -> None:
        """A pair of halves is one character; brackets in a name are no depth."""
        name = "kiln \\ud83d\\udd25 " + "[" * 60
        status, _ = self.send(f'{{"name": "{name}", "v_rms": 230, "f_hz": 50}}')
        self.assertEqual(status, 201)
        names = [site["name"] for site in self.api.get("/api/v1/sites/").json()["results"]]
        self.assertIn(json.loads(f'"{name}"'), names)

    def test_what_is_too_long_is_told_as_such(self) -> None:
        """Just inside and just outside, by what the address reads, and beyond what any reads; always as a problem."""
        long = '{"name": "%s", "v_rms": 230, "f_hz": 50}'
        for size, status, code in (
            (999_000, 400, "invalid"),
            (1_000_001, 413, "body_too_large"),
            (7_000_000, 413, "body_too_large"),
        ):
            self.assertEqual(self.send(long % ("a" * size)), (status, code))

    def test_a_shelf_of_five_megabytes_comes_in(self) -> None:
        """It is read; a line that is none is what stands against it."""
        text = "maker,name\n" + "x" * 4_900_000
        answer = self.api.post("/api/v1/parts/import/", {"format": "csv", "text": text, "apply": False}, format="json")
        self.assertNotEqual(answer.status_code, 413, answer.content[:300])
        self.assertEqual(answer["Content-Type"].split(";")[0].rpartition("+")[2].rpartition("/")[2], "json")

    def test_what_no_view_sees_is_a_problem_too(self) -> None:
        """A form that is too long is refused before the address looks at it."""
        answer = self.client.post(
            "/api/v1/session/", "a=" + "b" * 7_000_000, content_type="application/x-www-form-urlencoded"
        )
        self.assertEqual(answer["Content-Type"], "application/problem+json")
        self.assertIn(answer.status_code, (400, 413, 415))

    def test_what_breaks_is_told_in_problem_form(self) -> None:
        """Without a word of the inside; a person who opens a page gets a page."""
        self.api.raise_request_exception = False
        with patch("sites.api.SiteListView.get_queryset", side_effect=RuntimeError("secret")):
            answer = self.api.get("/api/v1/sites/")
        self.assertEqual((answer.status_code, answer["Content-Type"]), (500, "application/problem+json"))
        self.assertEqual(answer.json()["code"], "broken")
        # What somebody reads out over a telephone is what the log finds again.
        self.assertIn(f"under {answer['X-Request-ID'][:8]}", answer.json()["title"])
        self.assertNotIn("secret", answer.content.decode())
