"""Whose work a loop is, and until when."""

from __future__ import annotations

from typing import Any

from accounts.models import Role, User
from audit.models import Change
from bench.services.make_loop import make_loop
from loops.models import Loop
from tests.server.base import ServerTest

Json = dict[str, Any]


class Assignment(ServerTest):
    """Given, found, taken back."""

    def change(self, api: Any = None, **values: Any) -> Any:
        """As the dialog does it."""
        self.loop.refresh_from_db()
        path, body = f"/api/v1/loops/{self.loop.pk}/", {"version": self.loop.version, **values}
        return (api or self.api).patch(path, body, format="json")

    def names(self, api: Any = None, **query: str) -> list[str]:
        """Of the loops that the round lists."""
        return [row["name"] for row in (api or self.api).get("/api/v1/loops/", query).json()["results"]]

    def test_given_to_somebody_and_found_as_their_work(self) -> None:
        """Theirs lists it, another's does not; the search finds it by their name; the trail tells the name."""
        tam = User.objects.create(username="tam", display_name="Tam Osier", role=Role.TECHNICIAN)
        self.site.members.add(tam)
        make_loop(None, site=self.site, circuit=None, name="Sail loft")
        answer = self.change(assigned=str(tam.pk), due_on="2026-12-03")
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertEqual((answer.json()["assigned_name"], answer.json()["due_on"]), ("Tam Osier", "2026-12-03"))
        own = self.api.__class__()
        own.force_login(tam)
        self.assertEqual(self.names(own, mine="true"), ["Kiln room"])
        self.assertEqual(self.names(mine="true"), [])
        self.assertEqual(self.names(search="osier"), ["Kiln room"])
        noted = Change.objects.filter(subject_id=self.loop.pk, action="changed").first()
        assert noted is not None
        self.assertEqual(noted.after, {"assigned": "Tam Osier", "due_on": "2026-12-03"})
        history = self.api.get(f"/api/v1/loops/{self.loop.pk}/history/").json()
        self.assertIn("whose work: – → Tam Osier", history[0]["text"])
        self.assertEqual(self.change(assigned=None).json()["assigned_name"], "")
        self.assertEqual(self.names(search="osier"), [])

    def test_only_to_somebody_who_can_do_it_there(self) -> None:
        """No checker, nobody who does not see the site, nobody who has left; an administrator sees every site."""
        stranger = User.objects.create(username="stranger", role=Role.TECHNICIAN)
        gone = User.objects.create(username="gone", role=Role.TECHNICIAN, is_active=False)
        self.site.members.add(gone)
        for who in (stranger, gone, self.people[Role.CHECKER]):
            answer = self.change(assigned=str(who.pk), note="changed along")
            self.assertEqual((answer.status_code, answer.json()["code"]), (422, "not_their_work"), who.username)
        self.assertEqual(Loop.objects.get(pk=self.loop.pk).note, "")
        self.site.members.remove(self.people[Role.ADMINISTRATOR])
        self.assertEqual(self.change(assigned=str(self.people[Role.ADMINISTRATOR].pk)).status_code, 200)

    def test_what_is_due_first_comes_first(self) -> None:
        """By day, what has none last; a day that is none is refused."""
        for name, due in (("Sail loft", "2026-12-01"), ("Meal store", None), ("Wheel pit", "2026-11-20")):
            Loop.objects.filter(pk=make_loop(None, site=self.site, circuit=None, name=name).pk).update(due_on=due)
        self.assertEqual(self.names(order="due"), ["Wheel pit", "Sail loft", "Kiln room", "Meal store"])
        self.assertEqual(self.change(due_on="soon").status_code, 400)

    def test_the_table_tells_both(self) -> None:
        """Columns of the list as CSV."""
        self.change(assigned=str(self.people[Role.TECHNICIAN].pk), due_on="2026-12-03")
        table = b"".join(self.api.get("/api/v1/loops.csv", {"mine": "true"}).streaming_content).decode()
        self.assertIn("The technician,2026-12-03", table)
        self.assertEqual(len(table.strip().splitlines()), 2)
