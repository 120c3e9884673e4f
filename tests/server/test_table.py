"""The round as a table: out with the same filters, in with a look first, all or none, and back again unchanged."""

from __future__ import annotations

import csv
import io
from typing import Any

from accounts.models import Role, User
from audit.models import Change
from loops.models import Loop
from sites.models import Circuit
from tests.server.base import ServerTest

Json = dict[str, Any]


class TableTest(ServerTest):
    """Lists of loops."""

    def send(self, text: str, *, apply: bool = False, api: Any = None) -> Any:
        """A list."""
        return (api or self.api).post("/api/v1/loops/import/", {"text": text, "apply": apply}, format="json")

    def look(self, text: str) -> Json:
        """What a list would do; nothing is made by looking."""
        before = (Loop.objects.count(), Circuit.objects.count(), Change.objects.count())
        answer = self.send(text)
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertEqual(before, (Loop.objects.count(), Circuit.objects.count(), Change.objects.count()))
        return dict(answer.json())

    def table(self, **query: str) -> list[dict[str, str]]:
        """The round as a table."""
        answer = self.api.get("/api/v1/loops.csv", query)
        self.assertEqual(answer.status_code, 200)
        content = b"".join(answer.streaming_content).decode()  # type: ignore[attr-defined]  # a stream
        return list(csv.DictReader(io.StringIO(content)))


class In(TableTest):
    """From a list that somebody else made."""

    def test_looked_at_then_made_then_nothing_new(self) -> None:
        """A new loop of two gangs on a new breaker; the same list again changes nothing."""
        text = (
            "site,loop,breaker,note,gangs\n"
            "kestrel mill,Sail loft,21,by the hoist,stairs|loft\n"
            "Kestrel Mill,Kiln room,7,,\n"
        )
        looked = self.look(text)
        self.assertEqual((looked["new"], looked["unchanged"]), (["Kestrel Mill: Sail loft"], 1))
        self.assertEqual((looked["breakers"], looked["bad"]), (["Kestrel Mill: 21"], []))
        self.assertTrue(self.send(text, apply=True).json()["is_applied"])
        loop = Loop.objects.get(name="Sail loft")
        assert loop.circuit is not None
        self.assertEqual((loop.circuit.breaker, loop.note, loop.stage), ("21", "by the hoist", "asked"))
        self.assertEqual(list(loop.gangs.values_list("name", flat=True)), ["stairs", "loft"])
        again = self.send(text, apply=True).json()
        self.assertEqual((again["new"], again["unchanged"], again["breakers"]), ([], 2, []))
        found = self.api.get("/api/v1/loops/", {"search": "hoist"}).json()["results"]
        self.assertEqual([row["name"] for row in found], ["Sail loft"])

    def test_a_semicolon_list_with_a_mark_and_columns_of_ours(self) -> None:
        """As spreadsheets of other countries write it; columns that are only written are left aside."""
        looked = self.look("\ufeffLoop;Site;stage\nSail loft;Kestrel Mill;proved\n")
        self.assertEqual((looked["new"], looked["bad"]), (["Kestrel Mill: Sail loft"], []))

    def test_everything_wrong_is_told_at_its_place_and_nothing_is_made(self) -> None:
        """Line and column; with one wrong row none is made."""
        text = (
            "site,loop,breaker\n"
            "Nowhere,A,1\n"
            "Kestrel Mill,,1\n"
            f"Kestrel Mill,{'x' * 121},1\n"
            "Kestrel Mill,B,1\n"
            "Kestrel Mill,b,1\n"
            "Kestrel Mill,C\n"
        )
        bad = [(row["line"], row["column"], row["code"]) for row in self.look(text)["bad"]]
        self.assertEqual(
            sorted(bad),
            [
                (2, "site", "no_such_site"),
                (3, "loop", "not_a_name"),
                (4, "loop", "text_too_long"),
                (6, "loop", "name_twice"),
                (7, "", "wrong_cell_count"),
            ],
        )
        before = Loop.objects.count()
        answer = self.send(text, apply=True)
        self.assertEqual((answer.status_code, answer.json()["code"]), (422, "import_refused"))
        self.assertEqual(Loop.objects.count(), before)
        for broken, code in (("", "wrong_columns"), ('site,loop\n"a', "not_a_table"), ("loop\nx\n", "wrong_columns")):
            self.assertEqual([row["code"] for row in self.look(broken)["bad"]], [code], broken)

    def test_no_two_gangs_of_one_name_but_some_without(self) -> None:
        """Told at its column; gangs that nobody named are as many as stand there."""
        text = "site,loop,gangs\nKestrel Mill,Two,Spots|spots\nKestrel Mill,Three,a||\n"
        looked = self.look(text)
        self.assertEqual(
            [(row["line"], row["column"], row["code"]) for row in looked["bad"]], [(2, "gangs", "name_twice")]
        )
        text = text.replace("|spots", "|shelf")
        self.assertTrue(self.send(text, apply=True).json()["is_applied"])
        self.assertEqual(Loop.objects.get(name="Three").gangs.count(), 3)

    def test_only_ones_own_sites_and_only_by_whoever_may(self) -> None:
        """A site that one does not see is none; a checker makes no loops."""
        text = "site,loop\nLarkspur Cannery,Dock\n"
        User.objects.get(pk=self.people[Role.TECHNICIAN].pk).sites.remove(self.other_site)
        self.assertEqual([row["code"] for row in self.look(text)["bad"]], ["no_such_site"])
        self.assertEqual(self.send(text, apply=True, api=self.clients[Role.CHECKER]).status_code, 403)

    def test_no_more_rows_than_are_looked_at(self) -> None:
        """Five hundred are taken, one more is told."""
        rows = "".join(f"Kestrel Mill,Loop {k}\n" for k in range(501))
        self.assertEqual([row["code"] for row in self.look("site,loop\n" + rows)["bad"]], ["too_many"])
        self.assertEqual(len(self.look("site,loop\n" + "".join(rows.splitlines(True)[:500]))["new"]), 500)


class Out(TableTest):
    """For a spreadsheet."""

    def test_the_same_rows_as_the_round_with_its_filters(self) -> None:
        """All, some, none; only of sites where the reader works."""
        self.assertEqual([row["loop"] for row in self.table()], ["Kiln room"])
        self.assertEqual([row["loop"] for row in self.table(search="kiln", stage="asked")], ["Kiln room"])
        self.assertEqual(self.table(stage="proved"), [])
        User.objects.get(pk=self.people[Role.TECHNICIAN].pk).sites.clear()
        self.assertEqual(self.table(), [])

    def test_what_went_out_comes_back_unchanged(self) -> None:
        """Names that a spreadsheet would take for formulas, commas, quotes, two gangs."""
        text = 'site,loop,note,gangs\nKestrel Mill,=Sail loft,"-by ""A"", B","+one|two"\n'
        self.assertTrue(self.send(text, apply=True).json()["is_applied"])
        answer = self.api.get("/api/v1/loops.csv")
        out = b"".join(answer.streaming_content).decode()  # type: ignore[attr-defined]  # a stream
        self.assertIn("'=Sail loft", out)
        looked = self.look(out)
        self.assertEqual((looked["new"], looked["unchanged"], looked["bad"]), ([], 2, []))
        Loop.objects.filter(name="=Sail loft").update(name="gone")
        self.assertTrue(self.send(out, apply=True).json()["is_applied"])
        loop = Loop.objects.get(name="=Sail loft")
        self.assertEqual(loop.note, '-by "A", B')
        self.assertEqual(list(loop.gangs.values_list("name", flat=True)), ["+one", "two"])
