"""What comes in as JSON: refused in words where no record could hold it, whatever the address."""

from __future__ import annotations

import json

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
