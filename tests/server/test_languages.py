"""Every language says everything, in well-formed messages; a person reads theirs wherever they sign in."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator
from dataclasses import fields
from pathlib import Path
from typing import Any

from django.conf import settings
from django.test import SimpleTestCase, tag
from django.urls import get_resolver
from django.utils import translation

from accounts.models import Role
from ember_core.catalogue.class_defaults import WATTS_UNKNOWN, class_defaults
from ember_core.catalogue.control_classes import typical_control_data
from ember_core.catalogue.entry import KINDS
from ember_core.parts import BYPASS_CLASSES, FEED_CLASSES, LAMP_CLASSES, Cable, Control, Hardware, Supply
from ember_core.quantities import quantity_of
from ember_core.survey.box import Box, Conductor
from ember_core.survey.depth import DEFAULT_SPACERS_M, ControlBody
from judging.services.bypassing import SERIES_5, SERIES_20
from loops.documents import SUPPLY, SUPPLY_AND_TOLERANCE
from parts.models import Part
from tests.server.base import DemoTest, ServerTest
from wording.messages import Message
from wording.quantities import engineering
from wording.texts import catalogue, fill, reference_words

TEXTS = settings.ROOT / "texts"
FIRST, *OTHERS = (code for code, _ in settings.LANGUAGES)
SHEET = (Supply, Cable, Control, Hardware, *FEED_CLASSES, *BYPASS_CLASSES, *LAMP_CLASSES, Box, Conductor, ControlBody)
# And what else stands on the shelf.
PARTS = {*SHEET, *(part for kinds in KINDS.values() for part in kinds.values())}
# Of each kind of record so many are looked at.
ROWS = 3


def messages_of(path: Path) -> dict[str, str]:
    """Every message of a file by its place in it."""

    def walk(node: Any, place: str) -> Iterator[tuple[str, str]]:
        entries = node.items() if isinstance(node, dict) else enumerate(node) if isinstance(node, list) else ()
        if isinstance(node, str):
            yield place, node
        for name, child in entries:
            yield from walk(child, f"{place}/{name}")

    return dict(walk(json.loads(path.read_text(encoding="utf-8")), ""))


class Catalogues(SimpleTestCase):
    """Files beside files."""

    def files(self) -> list[Path]:
        """Every file of the first language, by its path below the language."""
        found = [path.relative_to(TEXTS / FIRST) for path in sorted((TEXTS / FIRST).rglob("*.json"))]
        self.assertGreater(len(found), 20)
        return found

    def test_no_language_lacks_a_message_or_has_one_too_many(self) -> None:
        """Key by key, in both directions."""
        for spoken in OTHERS:
            for file in self.files():
                first, other = messages_of(TEXTS / FIRST / file), messages_of(TEXTS / spoken / file)
                self.assertEqual(first.keys() ^ other.keys(), set(), f"{spoken}/{file}")

    def test_placeholders_are_the_same_in_every_language(self) -> None:
        """A figure that one language drops would be missing there."""
        # Words of the region may be put otherwise in another language, with an article or none.
        region = set(catalogue("vocabulary")["eu"])
        for spoken in OTHERS:
            for file in self.files():
                first, other = messages_of(TEXTS / FIRST / file), messages_of(TEXTS / spoken / file)
                for place, text in first.items():
                    names = Message(FIRST, text).names - region
                    self.assertEqual(names, Message(spoken, other[place]).names - region, f"{spoken}/{file}{place}")

    def test_nothing_is_left_in_the_first_language(self) -> None:
        """A sentence of four words or more that reads the same in both was forgotten."""
        for spoken in OTHERS:
            for file in self.files():
                first, other = messages_of(TEXTS / FIRST / file), messages_of(TEXTS / spoken / file)
                same = [
                    place
                    for place, text in first.items()
                    if text == other[place] and len([word for word in text.split() if word.isalpha()]) >= 4
                ]
                self.assertEqual(same, [], f"{spoken}/{file}")

    def test_every_figure_has_its_meaning_in_every_language(self) -> None:
        """And no meaning is kept that no figure has."""
        meanings = {
            quantity.meaning for part in PARTS for spec in fields(part) if (quantity := quantity_of(spec)) is not None
        }
        for spoken in OTHERS:
            told = json.loads((TEXTS / spoken / "figures.json").read_text(encoding="utf-8"))
            self.assertEqual(meanings, told.keys())

    def test_every_reference_is_told_in_every_language(self) -> None:
        """Those of classes, supply and series; what somebody wrote stays; none is kept that nothing has."""
        said = {figure.reference for entry in class_defaults() for figure in entry.figures} | {WATTS_UNKNOWN}
        feed = typical_control_data("wifi_switch", 230.0)["standby"]
        said |= {figure["note"] for figure in feed.values() if isinstance(figure, dict)}
        said |= {SUPPLY, SUPPLY_AND_TOLERANCE, SERIES_5, SERIES_20}
        for spoken in OTHERS:
            told = json.loads((TEXTS / spoken / "references.json").read_text(encoding="utf-8"))
            self.assertEqual(said, told.keys())
            with translation.override(spoken):
                self.assertNotIn("marked", reference_words("the watts marked on it"))
                self.assertEqual(reference_words("bench, 3 h"), "bench, 3 h")

    def test_the_spacers_reckoned_with_are_those_told(self) -> None:
        """The form's sentence names the heights that the depth check takes where nobody said any, and no other."""
        for spoken in (FIRST, *OTHERS):
            told = json.loads((TEXTS / spoken / "web" / "survey.json").read_text(encoding="utf-8"))
            heights_mm = [int(number) for number in re.findall(r"\d+", told["box"]["spacersNotNoted"])]
            self.assertEqual(heights_mm, [round(height_m * 1e3) for height_m in DEFAULT_SPACERS_M])


class Filling(SimpleTestCase):
    """One message, filled."""

    def test_one_and_many(self) -> None:
        """The plural is chosen by the number, whatever the language."""
        text = "{entry_count, plural, one {# Eintrag} other {# Einträge}}"
        with translation.override("de"):
            self.assertEqual(fill(text, {"entry_count": 1}), "1 Eintrag")
            self.assertEqual(fill(text, {"entry_count": 3}), "3 Einträge")

    def test_a_missing_placeholder_is_an_error(self) -> None:
        """It must not be shown in braces."""
        with self.assertRaises(KeyError):
            fill("{what} is off", {})

    def test_the_decimal_sign_is_the_language_s(self) -> None:
        """A comma in German, a point in English."""
        with translation.override("de"):
            self.assertEqual(engineering(4.7e-6, "F"), "4,70 µF")
            self.assertEqual(fill("{lamp_v}", {"lamp_v": 40.5}), "40,5 V")
        with translation.override("en"):
            self.assertEqual(engineering(4.7e-6, "F"), "4.70 µF")


class EveryAddress(DemoTest):
    """What the demo holds, for somebody who reads another language."""

    @tag("whole")
    def test_nothing_breaks_in_another_language(self) -> None:
        """Each address of the API, with a part of every kind and some of every other record, as an administrator."""
        kinds = Part.objects.order_by("kind").values_list("kind", flat=True).distinct()
        parts = [Part.objects.filter(kind=kind)[0].pk for kind in kinds]
        for spoken in OTHERS:
            client = self.clients[Role.ADMINISTRATOR]
            client.patch("/api/v1/session/", {"language": spoken}, format="json")
            asked = 0
            for entry in get_resolver().url_patterns[0].url_patterns:
                pattern = str(entry.pattern)
                record = getattr(entry.callback.view_class, "record", Part if pattern.startswith("parts/") else None)
                keys = [None] if "<" not in pattern else []
                if "<uuid:pk>" in pattern and record is not None:
                    found = record._base_manager.order_by("pk").values_list("pk", flat=True)
                    keys = parts if record is Part else list(found[:ROWS])
                for key in keys:
                    address = "/api/v1/" + pattern.replace("<uuid:pk>", str(key))
                    with self.subTest(spoken=spoken, address=address):
                        answer = client.get(address)
                        self.assertLess(answer.status_code, 500)
                    asked += answer.status_code == 200
            self.assertGreater(asked, 150)


class OfAPerson(ServerTest):
    """Who reads what."""

    def test_a_language_is_chosen_kept_and_told_by_every_answer(self) -> None:
        """From the next answer on; also where nothing but a cookie is there, as for a paper."""
        answer = self.api.patch("/api/v1/session/", {"language": "de"}, format="json")
        self.assertEqual(answer.json()["user"]["language"], "de")
        self.assertEqual(answer.cookies["ember_language"].value, "de")
        refused = self.api.get("/api/v1/loops/00000000-0000-4000-8000-000000000000/")
        self.assertEqual(refused.json()["title"], "Das gibt es nicht oder nicht mehr.")
        self.assertEqual(refused.headers["Content-Language"], "de")

    def test_an_unknown_language_is_refused(self) -> None:
        """Nothing changes."""
        answer = self.api.patch("/api/v1/session/", {"language": "tlh"}, format="json")
        self.assertEqual(answer.status_code, 400)
        self.assertEqual(self.api.get("/api/v1/session/").json()["user"]["language"], "")

    def test_the_browser_s_wish_counts_where_nothing_was_chosen(self) -> None:
        """And English where the wish is for a language that there is not."""
        for wish, title in (("de-AT,en;q=0.5", "Das gibt es nicht"), ("fi", "This does not exist")):
            refused = self.api.get(
                "/api/v1/loops/00000000-0000-4000-8000-000000000000/", headers={"accept-language": wish}
            )
            self.assertIn(title, refused.json()["title"])
