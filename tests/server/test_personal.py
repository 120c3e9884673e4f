"""What is kept of a client: found, told whole, erased; what is technical stays, and every seal holds."""

from __future__ import annotations

import uuid

from django.test import tag

from accounts.models import Role
from audit.models import Change
from handover.models import Issue, Signature
from handover.services.issuing import faults_of
from loops.models import Loop
from proving.models import Case
from tests.server.test_handover import HandoverTest

NAME = "Ida Marl"


@tag("whole")
class Personal(HandoverTest):
    """A client who signed, and whose name somebody wrote into notes."""

    def prepare(self) -> None:
        """Signed; named in a note, in a case and in the reason of an entry that is frozen."""
        self.assertEqual(self.issue(note="asked for by Ida Marl").status_code, 201)
        self.assertEqual(self.sign("technician").status_code, 201)
        self.assertEqual(self.sign("client", name=NAME).status_code, 201)
        Loop.objects.filter(pk=self.loop.pk).update(note="key with ida marl, floor 2", words="Kiln room ida marl")
        note, who = "Ida Marl saw it at night", self.people[Role.TECHNICIAN]
        Case.objects.create(id=uuid.uuid4(), number=1, loop=self.loop, gang=self.gang, told=[], note=note, by=who)

    def setUp(self) -> None:
        super().setUp()
        self.office = self.clients[Role.ADMINISTRATOR]

    def find(self, name: str = NAME) -> dict:
        """What is kept."""
        answer = self.office.post("/api/v1/personal/find/", {"name": name}, format="json")
        self.assertEqual(answer.status_code, 200, answer.content)
        return dict(answer.json())

    def erase(self) -> dict:
        """Gone, and what is left."""
        body = {"name": NAME, "reason": "letter of the 3rd"}
        answer = self.office.post("/api/v1/personal/erase/", body, format="json")
        self.assertEqual(answer.status_code, 200, answer.content)
        return dict(answer.json())

    def test_everything_is_told(self) -> None:
        """The signature with its strokes, both notes in whatever case, and what is frozen."""
        found = self.find()
        (signature,) = found["signatures"]
        self.assertEqual((signature["name"], signature["loop"], signature["issue"]), (NAME, "Kiln room", 1))
        self.assertTrue(signature["strokes"])
        self.assertEqual({one["kind"] for one in found["texts"]}, {"note of the loop", "note of a case"})
        self.assertEqual([one["kind"] for one in found["frozen"]], ["frozen in an issue"])
        self.assertEqual(self.find("nobody at all")["signatures"], [])

    def test_erased_and_every_seal_holds(self) -> None:
        """No name, no hand, no note with it; the issue, its chain and seal are as they were; pages say so."""
        before = Signature.objects.get(role="client")
        left = self.erase()
        self.assertEqual((left["signatures"], left["texts"]), ([], []))
        self.assertEqual(len(left["frozen"]), 1)
        after = Signature.objects.get(role="client")
        self.assertEqual((after.name, after.strokes, after.salt), ("", [], ""))
        self.assertEqual((after.seal, after.personal, after.signed), (before.seal, before.personal, before.signed))
        self.assertEqual(faults_of(Issue.objects.get()), [])
        loop = Loop.objects.get(pk=self.loop.pk)
        self.assertEqual(loop.note, "key with […], floor 2")
        self.assertNotIn("marl", loop.words.casefold())
        self.assertEqual(Case.objects.get().note, "[…] saw it at night")
        shown = {row["role"]: row["name"] for row in self.newest()["signatures"]}
        self.assertEqual((shown["client"], shown["technician"]), ("name erased", "The technician"))
        self.assertEqual(self.checker.get(f"/api/v1/issues/{self.newest()['id']}/signatures.pdf").status_code, 200)

    def test_the_trail_says_that_and_why_but_not_who(self) -> None:
        """Neither the erasing nor the signing wrote the client's name into what nobody can change."""
        self.erase()
        noted = Change.objects.filter(action="personal data erased")
        self.assertEqual(noted.count(), 3)
        self.assertEqual({one.after["reason"] for one in noted}, {"letter of the 3rd"})
        self.assertEqual(self.find()["trail_count"], 0)

    def test_a_longer_name_is_somebody_elses(self) -> None:
        """Whoever is called Ida Marlowe is found beside Ida Marl, and keeps name, hand and note."""
        Signature.objects.filter(role="client").update(name="Ida Marlowe")
        Loop.objects.filter(pk=self.loop.pk).update(note="key with Ida Marlowe")
        self.assertEqual([row["name"] for row in self.find()["signatures"]], ["Ida Marlowe"])
        left = self.erase()
        self.assertEqual([row["name"] for row in left["signatures"]], ["Ida Marlowe"])
        self.assertEqual(Loop.objects.get(pk=self.loop.pk).note, "key with Ida Marlowe")

    def test_a_name_too_short_and_who_may(self) -> None:
        """Two letters would erase half the record; nobody but an administrator asks."""
        for path in ("find", "erase"):
            answer = self.office.post(f"/api/v1/personal/{path}/", {"name": "Id", "reason": "x"}, format="json")
            self.assertEqual((answer.status_code, answer.json()["code"]), (422, "name_too_short"))
            for role in (Role.TECHNICIAN, Role.CHECKER):
                refused = self.clients[role].post(f"/api/v1/personal/{path}/", {"name": NAME}, format="json")
                self.assertEqual(refused.status_code, 403)
        self.assertEqual(Signature.objects.get(role="client").name, NAME)
