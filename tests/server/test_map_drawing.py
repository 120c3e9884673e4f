"""The drawing of a wire map: one layout for screen and paper, in which every core is told at its terminals."""

from __future__ import annotations

import re
from functools import cache
from typing import Any
from unittest import TestCase
from unittest.mock import patch

from django.test import tag
from django.utils import translation
from weasyprint.document import Document

from handover.services.map_drawing import LETTERS, map_svg, wire_map_of
from handover.services.pages import bound, map_pages
from survey.models import TakenReading
from tests.core.test_surveyed import boxes_of_stair, every_map, stair
from tests.server.test_fitting import FitTest
from tests.server.test_handover import HandoverTest
from work.models import RouteChoice
from work.services.map_layout import ROW, layout_of
from work.services.mapping import drawing_answer, map_answer
from work.services.words import RouteWords

Json = dict[str, Any]
PATH = re.compile(r"^M(\S+) (\S+) C.* (\S+) (\S+)$")


@cache
def drawn_maps() -> list[tuple[str, Json]]:
    """Every way of every kind of box and stair, in both regions; drawn once for all tests of a process."""
    made = []
    for base, route in every_map():
        assert base.seats is not None
        assert route.wanted is not None
        cores = {core.id: core for core in (*base.seats.cores, *route.wanted.cores)}
        words = RouteWords(route.wanted.region, cores)
        made.append((route.way.value, drawing_answer(base.seats, route.wanted, words)))
    return made


@tag("long")
class Layouts(TestCase):
    """Where all of it lies."""

    def test_each_core_begins_and_ends_at_its_terminals(self) -> None:
        """At the edge of the row where its end is to sit; its name stands in that row, and in no other."""
        looked = 0
        for way, drawing in drawn_maps():
            laid = layout_of(drawing)
            place_of = {
                (place["id"], row["id"]): row
                for place in laid["places"]
                for row in laid["seats"]
                if row["x"] == place["x"] and place["y"] <= row["y"] < place["y"] + place["height"]
            }
            lines = {line["id"]: line for line in laid["wanted"]}
            for core in drawing["cores"]:
                if any(end["after"] is None for end in core["ends"]):
                    self.assertNotIn(core["id"], lines, way)
                    continue
                found = PATH.match(lines[core["id"]]["path"])
                assert found is not None
                x1, y1, x2, y2 = (float(one) for one in found.groups())
                rows = [place_of[end["place"], end["after"]] for end in core["ends"]]
                for end, row in zip(core["ends"], rows, strict=True):
                    self.assertIn({"id": core["id"], "name": end["name"]}, row["cores"], (way, core["id"]))
                edges = {x for row in rows for x in (row["x"], row["x"] + row["width"])}
                self.assertLessEqual({x1, x2}, edges, (way, core["id"]))
                for y in (y1, y2):
                    self.assertTrue(any(row["y"] - 2 <= y <= row["y"] + ROW for row in rows), (way, core["id"]))
                looked += 1
            told = [(core["id"], row["id"]) for row in laid["seats"] for core in row["cores"]]
            seated = sum(end["after"] is not None for core in drawing["cores"] for end in core["ends"])
            self.assertEqual(len(told), seated, way)
        self.assertGreater(looked, 1_000)

    def test_nothing_lies_over_another_or_outside(self) -> None:
        """Places keep apart, rows lie in their place, the drawing holds them all."""
        for way, drawing in drawn_maps():
            laid = layout_of(drawing)
            boxes = laid["places"]
            for k, one in enumerate(boxes):
                self.assertLessEqual(one["x"] + one["width"], laid["width"])
                self.assertLessEqual(one["y"] + one["height"], laid["height"])
                for other in boxes[k + 1 :]:
                    apart = one["x"] + one["width"] < other["x"] or one["y"] + one["height"] < other["y"]
                    self.assertTrue(apart or other["x"] + other["width"] < one["x"], (way, one["id"], other["id"]))
            for row in laid["seats"]:
                inside = [
                    box for box in boxes if box["x"] == row["x"] and box["y"] < row["y"] < box["y"] + box["height"]
                ]
                self.assertEqual(len(inside), 1, way)
                self.assertLessEqual(row["y"] + ROW, inside[0]["y"] + inside[0]["height"])
            rows = [(row["x"], row["y"]) for row in laid["seats"]]
            self.assertEqual(len(set(rows)), len(rows), way)


@tag("whole")
class OnPaper(HandoverTest):
    """The page of a loop with a chosen way."""

    def laid(self) -> Json:
        """The drawing as the API gives it."""
        return dict(self.api.get(self.at("ways/")).json()["chosen_map"])

    def test_screen_and_paper_draw_the_same(self) -> None:
        """Every path of the screen is on the page, and every core with the letters of its colour."""
        shown = self.laid()
        svg = map_svg(shown)
        for line in (*shown["layout"]["found"], *shown["layout"]["wanted"]):
            self.assertIn(f'd="{line["path"]}"', svg)
        for core in shown["drawing"]["cores"]:
            if core["colour"]:
                self.assertIn(LETTERS[core["colour"]], svg, core)
        self.assertEqual(svg.count("<circle"), sum(one["kind"] == "lamp" for one in shown["layout"]["symbols"]))

    def test_what_a_sleeve_says_stands_at_the_core(self) -> None:
        """A blue core that is live bears it in the drawing."""
        shown = self.laid()
        marked = [core for core in shown["drawing"]["cores"] if core["marked"] == "live"]
        self.assertTrue(marked)
        svg = map_svg(shown)
        for core in marked:
            for end in core["ends"]:
                self.assertIn(f"{end['name']} {LETTERS[core['colour']]} (live)", svg)
        with translation.override("de"):
            self.assertIn("(spannungführend)", map_svg(shown))

    def test_names_of_people_draw_nothing(self) -> None:
        """What somebody typed as a name of a box stays text."""
        shown = self.laid()
        shown["layout"]["places"][0]["name"] = "<script>x</script>"
        self.assertNotIn("<script>", map_svg(shown))

    def test_what_is_open_stands_on_the_page_as_on_the_screen(self) -> None:
        """Conductors that nobody has proved, what is taken for granted, the torque of a terminal: the same words."""
        for _ in range(2):
            shown = self.api.get(self.at("ways/")).json()
            page = wire_map_of(self.loop)
            assert page is not None
            self.assertEqual((page["open"], page["assumed"]), (", ".join(shown["open_roles"]), shown["assumed"]))
            notes = [line["note"] for line in shown["chosen_map"]["lines"]]
            self.assertEqual([line["note"] for line in page["lines"]], notes)
            # Struck out, the readings prove nothing any more.
            TakenReading.objects.filter(loop=self.loop).update(struck_reason="the probe slipped")
        self.assertTrue(page["open"] and page["assumed"])
        self.assertTrue(any(notes))

    @tag("long")
    def test_it_is_bound_into_issue_and_loop_sheet(self) -> None:
        """One landscape page more in both; none while no way is chosen."""
        self.assertEqual(len(map_pages(self.loop)), 1)
        self.assertEqual(self.landscape(f"/api/v1/gangs/{self.gang.pk}/sheet.pdf"), 1)
        self.assertEqual(self.landscape("issue"), 1)

    def landscape(self, path: str) -> int:
        """How many pages of a paper lie across, by how they were bound."""
        across: list[int] = []

        def seen(parts: list[Document]) -> bytes:
            across.append(sum(page.width > page.height for part in parts for page in part.pages))
            return bound(parts)

        with patch("handover.services.pages.bound", seen):
            answer = self.issue() if path == "issue" else self.api.get(path)
        self.assertLess(answer.status_code, 300, answer.content)
        return across[0]


@tag("long")
class WithoutAWay(FitTest):
    """Nobody chose."""

    def test_there_is_no_page(self) -> None:
        """The loop sheet is as it was."""
        RouteChoice.objects.filter(loop=self.loop).delete()
        self.assertEqual(map_pages(self.loop), [])
        self.assertEqual(self.api.get(f"/api/v1/gangs/{self.gang.pk}/sheet.pdf").status_code, 200)


@tag("long")
class Moved(TestCase):
    """What the drawing tells of an experiment that cannot be told apart otherwise."""

    def test_pieces_are_numbered(self) -> None:
        """Each new piece has one number at both of its ends."""
        looked = 0
        for _, drawing in drawn_maps():
            new = [core for core in drawing["cores"] if core["is_new"]]
            rows = layout_of(drawing)["seats"] if new else []
            for core in new:
                ends = [one["name"] for row in rows for one in row["cores"] if one["id"] == core["id"]]
                self.assertEqual(ends, [ends[0]] * 2, core)
                self.assertRegex(ends[0], r"^\+\d+$")
            self.assertEqual(len({core["ends"][0]["name"] for core in new}), len(new))
            looked += len(new)
        self.assertGreater(looked, 100)

    def test_a_core_is_called_at_a_box_as_its_survey_calls_it(self) -> None:
        """Travellers and the core that comes back bear two names; at each box stands the one of that box, once."""
        sorts: tuple[dict[str, bool], ...] = (
            {},
            {"middle": True},
            {"reverse": True},
            {"returns": True},
            {"returns": True, "middle": True},
        )
        for sort in sorts:
            base = stair(**sort)
            assert base.seats is not None, base.against
            answer = map_answer(base.seats, base.seats, "eu", names={})
            for number, one in enumerate(boxes_of_stair(**sort), 1):
                place = "box" if number == 1 else f"box{number}"
                named = [
                    end["name"] for core in answer["drawing"]["cores"] for end in core["ends"] if end["place"] == place
                ]
                self.assertEqual(sorted(named), sorted(conductor.id for conductor in one.box.conductors), (sort, place))
