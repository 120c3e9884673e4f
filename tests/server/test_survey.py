"""The survey over the API: box, readings, isolation, steps, photographs, schedule."""

from __future__ import annotations

import io
import uuid
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import override_settings
from PIL import Image

from accounts.models import Role
from loops.models import Loop
from sites.models import Circuit
from survey.models import Photo, TakenReading
from tests.server.base import ServerTest

Json = dict[str, Any]
ONE_WAY: Json = {
    "gangs": ["one_way"],
    "circuits": 1,
    "all_listed": True,
    "conductors": [
        {"id": "c1", "cable": "A", "colour": "brown", "terminal": "common", "gang": 1},
        {"id": "c2", "cable": "A", "colour": "blue", "terminal": "l1", "gang": 1},
    ],
}
PAIRS = (("c1", "known_earth"), ("c2", "known_earth"), ("c1", "c2"))


def picture(kind: str = "JPEG", size: tuple[int, int] = (320, 240)) -> bytes:
    """A small picture with a place in its metadata."""
    made = Image.new("RGB", size, (180, 66, 26))
    exif = Image.Exif()
    exif[0x8825] = {1: "N", 2: (51.0, 30.0, 0.0)}
    out = io.BytesIO()
    made.save(out, kind, **({"exif": exif} if kind == "JPEG" else {}))
    return out.getvalue()


class SurveyTest(ServerTest):
    """What these tests share."""

    def at(self, path: str) -> str:
        """An address below the loop."""
        return f"/api/v1/loops/{self.loop.pk}/{path}"

    def save(self, version: int = 0, **changes: Any) -> Any:
        """Keep the survey's documents."""
        body = {"version": version, "enquiry": {}, "box": ONE_WAY, **changes}
        return self.api.put(self.at("survey/"), body, format="json")

    def read(self, a: str, b: str = "known_earth", **more: Any) -> Any:
        """Keep a reading."""
        body = {"id": str(uuid.uuid4()), "a": a, "b": b, "meter_r_ohm": 4e5, "switches": {"1": "off"}, **more}
        return self.api.post(self.at("readings/"), body, format="json")

    def isolate(self, api: Any = None, *, lock: bool = True, **more: Any) -> Json:
        """Record the loop's breaker as off, and put the caller's lock on."""
        api = api or self.api
        body = {"id": str(uuid.uuid4()), "scope": "breakers", "circuits": [str(self.circuit.pk)], **more}
        answer = api.post(self.at("isolations/"), body, format="json")
        self.assertEqual(answer.status_code, 201, answer.content)
        if lock:
            answer = self.lock(answer.json(), api)
            self.assertEqual(answer.status_code, 201, answer.content)
        return answer.json()

    def lock(self, isolation: Json, api: Any = None, **more: Any) -> Any:
        """Put the caller's lock on."""
        body = {"id": str(uuid.uuid4()), "loop": str(self.loop.pk), **more}
        return (api or self.api).post(f"/api/v1/isolations/{isolation['id']}/locks/", body, format="json")

    def event(self, proof: str, kind: str, api: Any = None, **more: Any) -> Any:
        """One event of a proof."""
        body = {"id": str(uuid.uuid4()), "proof": proof, "kind": kind, **more}
        return (api or self.api).post(self.at("proof-events/"), body, format="json")

    def prove(self, api: Any = None, pairs: tuple[tuple[str, str], ...] = PAIRS) -> Json:
        """Prove the box dead, in order; the survey as it then is comes back."""
        proof = str(uuid.uuid4())
        self.assertEqual(self.event(proof, "tester_before", api).status_code, 201)
        for a, b in pairs:
            self.assertEqual(self.event(proof, "reading", api, a=a, b=b, v=0.2).status_code, 201)
        self.assertEqual(self.event(proof, "tester_after", api).status_code, 201)
        answer = self.event(proof, "charge", api, charge="none_fitted")
        self.assertEqual(answer.status_code, 201, answer.content)
        return answer.json()

    def survey(self, api: Any = None, place: int = 1) -> Json:
        """The survey as the caller sees it."""
        return (api or self.api).get(self.at(f"survey/?place={place}")).json()

    def mark(self, step: str, is_done: bool = True, **more: Any) -> Any:
        """Mark a step, or take the mark back."""
        body = {"id": str(uuid.uuid4()), "step": step, "is_done": is_done, **more}
        return self.api.post(self.at("steps/"), body, format="json")

    def photograph(self) -> None:
        """A photograph from before."""
        made = SimpleUploadedFile("box.jpg", picture())
        body = {"id": str(uuid.uuid4()), "moment": "before", "file": made}
        self.assertEqual(self.api.post(self.at("photos/"), body, format="multipart").status_code, 201)

    def code(self, answer: Any) -> tuple[int, str]:
        """Status and first error code."""
        return answer.status_code, answer.json()["errors"][0]["code"]


class Box(SurveyTest):
    """Recording the box."""

    def test_from_nothing_to_every_conductor_known(self) -> None:
        """An empty survey says what is missing; three readings settle a one-way switch; the round follows."""
        empty = self.api.get(self.at("survey/")).json()
        self.assertEqual((empty["version"], empty["judgement"]["neutral"]["verdict"]), (0, "unknown"))
        first = self.save().json()
        self.assertEqual(first["version"], 1)
        self.assertFalse(first["judgement"]["is_known"])
        self.assertTrue(first["judgement"]["next_live"]["text"].startswith("Volts, low impedance: from c"))
        self.assertEqual(Loop.objects.get(pk=self.loop.pk).next_step, "survey")
        self.read("c2", v=231.0)
        self.assertFalse(self.read("c1", v=0.6).json()["judgement"]["is_known"])
        answer = self.read("c1", v=230.0, switches={"1": "on"}).json()
        roles = {entry["conductor"]: entry["role"] for entry in answer["judgement"]["conductors"]}
        self.assertEqual(roles, {"c1": "switched_live", "c2": "permanent_live"})
        self.assertTrue(answer["judgement"]["is_known"])
        self.assertEqual(answer["judgement"]["neutral"]["verdict"], "absent")
        self.assertIn("colour_contradicts_role", [entry["code"] for entry in answer["judgement"]["findings"]])
        self.assertEqual(Loop.objects.get(pk=self.loop.pk).next_step, "lamps")

    def test_a_stale_survey_is_refused_and_nothing_is_overwritten(self) -> None:
        """Both states are given."""
        self.save()
        answer = self.save(version=0, practice="feed_at_ceiling")
        self.assertEqual(self.code(answer), (409, "stale_version"))
        self.assertEqual(answer.json()["current"]["version"], 1)
        self.assertEqual(self.api.get(self.at("survey/")).json()["practice"], "")

    def test_bad_input_is_told_by_place_and_changes_nothing(self) -> None:
        """Negative depth, impossible labels, foreign breaker, unknown words."""
        self.save()
        elsewhere = Circuit.objects.create(site=self.other_site, breaker="12")
        lives = [{**c, "label": "permanent_live"} for c in ONE_WAY["conductors"]]
        cases = (
            ({"box": {**ONE_WAY, "depth_m": -0.03}}, "out_of_bounds", "box.depth_m"),
            ({"box": {**ONE_WAY, "conductors": lives}}, "two_permanent_lives", "box.conductors[1].label"),
            ({"other_circuits": [str(elsewhere.pk)]}, "circuit_of_other_site", "other_circuits"),
            ({"box": {**ONE_WAY, "gangs": ["three_way"]}}, "unknown_kind", "box.gangs[0]"),
            ({"enquiry": {"wired_year": 1500}}, "out_of_bounds", "enquiry.wired_year"),
            ({"practice": "magic"}, "unknown_kind", "practice"),
            ({"spacers_m": [0.5]}, "out_of_bounds", "spacers_m[0]"),
            ({"control_body": {"depth_m": 0.03}}, "missing", "control_body.width_m"),
        )
        for changes, code, path in cases:
            answer = self.save(version=1, **changes)
            self.assertEqual(self.code(answer), (422, code), changes)
            self.assertEqual(answer.json()["errors"][0]["path"], path)
        self.assertEqual(self.api.get(self.at("survey/")).json()["version"], 1)

    def test_depth_is_judged_with_the_spacers_at_hand(self) -> None:
        """A 25 mm control in a 35 mm box of two conductors."""
        box = {**ONE_WAY, "depth_m": 0.035, "width_m": 0.07, "height_m": 0.07}
        body = {"depth_m": 0.025, "width_m": 0.045, "height_m": 0.045, "lead_count": 0}
        fits = self.save(box=box, control_body=body).json()["depth"]
        self.assertEqual(fits["fit"], "fits")
        deep = self.save(version=1, box=box, control_body={**body, "depth_m": 0.038}, spacers_m=[0.016]).json()["depth"]
        self.assertEqual((deep["fit"], deep["spacer_m"]), ("fits_with_spacer", 0.016))
        self.assertIn("spacer of 16 mm", deep["text"])

    def test_no_spacer_at_hand_is_not_the_same_as_nothing_said(self) -> None:
        """Unsaid, it is reckoned with what is usually sold and told as unsaid; none at hand stays none."""
        box = {**ONE_WAY, "depth_m": 0.035, "width_m": 0.07, "height_m": 0.07}
        body = {"depth_m": 0.038, "width_m": 0.045, "height_m": 0.045, "lead_count": 0}
        unsaid = self.save(box=box, control_body=body).json()
        self.assertEqual((unsaid["spacers_m"], unsaid["depth"]["fit"]), ([], "fits_with_spacer"))
        none = self.save(version=1, box=box, control_body=body, spacers_m=[0.0]).json()
        self.assertEqual((none["spacers_m"], none["depth"]["fit"]), ([0.0], "does_not_fit"))

    def test_a_checker_reads_and_does_not_write(self) -> None:
        """Roles hold here too."""
        checker = self.clients[Role.CHECKER]
        self.assertEqual(checker.get(self.at("survey/")).status_code, 200)
        body = {"version": 0, "enquiry": {}, "box": ONE_WAY}
        self.assertEqual(checker.put(self.at("survey/"), body, format="json").status_code, 403)

    def test_choices_come_in_the_regions_words(self) -> None:
        """Line and ground across the water; every preset's conductors can be saved as they are."""
        eu = self.api.get("/api/v1/survey-choices/?region=eu").json()
        na = self.api.get("/api/v1/survey-choices/?region=na").json()
        self.assertEqual(eu["roles"][0]["text"], "permanent live")
        self.assertEqual(na["roles"][0]["text"], "line")
        for version, practice in enumerate(eu["practices"]):
            box = {"gangs": [practice["ways"]], "circuits": 1, "conductors": practice["conductors"]}
            answer = self.save(version=version, box=box, practice=practice["value"])
            self.assertEqual(answer.status_code, 200, answer.content)


class Readings(SurveyTest):
    """Taking and striking readings."""

    def test_the_same_reading_sent_twice_is_kept_once(self) -> None:
        """A dropped connection makes senders repeat themselves; another content under the same identity is refused."""
        self.save()
        body = {"id": str(uuid.uuid4()), "a": "c1", "b": "known_earth", "v": 229.0, "switches": {"1": "off"}}
        for _ in range(2):
            self.assertEqual(self.api.post(self.at("readings/"), body, format="json").status_code, 201)
        self.assertEqual(TakenReading.objects.count(), 1)
        answer = self.api.post(self.at("readings/"), {**body, "v": 12.0}, format="json")
        self.assertEqual(self.code(answer), (409, "entry_differs"))

    def test_impossible_readings_are_refused(self) -> None:
        """600 V, an unknown conductor, both kinds at once, a switch that is not there."""
        self.save()
        for more, code in (
            ({"v": 600.0}, "reading_beyond_supply"),
            ({"v": -1.0}, "out_of_bounds"),
            ({}, "reading_without_value"),
            ({"v": 10.0, "is_open": True}, "reading_of_two_kinds"),
            ({"v": 10.0, "switches": {"4": "on"}}, "no_such_switch"),
            ({"v": 10.0, "b": "c1"}, "reading_to_itself"),
        ):
            answer = self.read("c1", more.pop("b", "known_earth"), **more)
            self.assertEqual(self.code(answer), (422, code))
        self.assertEqual(self.code(self.read("c9", v=1.0)), (422, "no_such_conductor"))
        self.assertEqual(TakenReading.objects.count(), 0)

    def test_volts_and_continuity_agree_with_the_isolation_on_record(self) -> None:
        """Volts while isolated, and continuity while not, are both refused."""
        self.save()
        self.assertEqual(self.code(self.read("c1", is_open=True, supply_on=False)), (422, "continuity_not_isolated"))
        self.isolate()
        self.assertEqual(self.code(self.read("c1", v=0.0)), (422, "reading_while_isolated"))
        self.assertEqual(self.code(self.read("c1", is_open=True, supply_on=False)), (422, "continuity_not_isolated"))
        self.prove()
        self.assertEqual(self.read("c1", "known_line", r_ohm=0.3, supply_on=False).status_code, 201)

    def test_a_struck_reading_no_longer_counts_but_stays(self) -> None:
        """With its reason; and only then may its conductor go."""
        self.save()
        self.read("c1", v=230.0)
        row = TakenReading.objects.get()
        bare = {**ONE_WAY, "conductors": ONE_WAY["conductors"][1:]}
        self.assertEqual(self.code(self.save(version=1, box=bare)), (422, "conductor_has_readings"))
        answer = self.api.post(f"/api/v1/readings/{row.pk}/strike/", {"reason": "slipped"}, format="json").json()
        self.assertEqual(answer["readings"][0]["struck_reason"], "slipped")
        self.assertFalse(answer["judgement"]["is_known"])
        again = self.api.post(f"/api/v1/readings/{row.pk}/strike/", {"reason": "again"}, format="json")
        self.assertEqual(self.code(again), (409, "already_struck"))
        self.assertEqual(self.save(version=1, box=bare).status_code, 200)


@override_settings(STORAGES={"default": {"BACKEND": "django.core.files.storage.InMemoryStorage"}})
class Photographs(SurveyTest):
    """Kept by what they are, not by what they are called."""

    def send(self, content: bytes, name: str = "box.jpg") -> Any:
        """Upload."""
        body = {"id": str(uuid.uuid4()), "moment": "before", "caption": "as found"}
        return self.api.post(
            self.at("photos/"), {**body, "file": SimpleUploadedFile(name, content)}, format="multipart"
        )

    def test_a_photograph_loses_its_place_and_keeps_its_picture(self) -> None:
        """What went in has a position, what comes out has no metadata; then the step can be marked."""
        self.assertIn(b"Exif", picture())
        kept = self.send(picture()).json()["photos"][0]
        self.assertEqual((kept["width_px"], kept["height_px"]), (320, 240))
        content = b"".join(self.api.get(kept["url"]).streaming_content)
        with Image.open(io.BytesIO(content)) as shown:
            self.assertEqual((shown.format, shown.size, dict(shown.getexif())), ("JPEG", (320, 240), {}))
        self.isolate()
        self.assertEqual(self.mark("open").status_code, 200)
        self.assertEqual(self.mark("photograph").status_code, 200)

    def test_the_same_identity_with_another_picture_is_refused(self) -> None:
        """Sent twice it is kept once; another picture under it is not quietly dropped."""
        body = {"id": str(uuid.uuid4()), "moment": "before"}
        answers = [
            self.api.post(
                self.at("photos/"), {**body, "file": SimpleUploadedFile("a.jpg", content)}, format="multipart"
            )
            for content in (picture(), picture(), picture("PNG"))
        ]
        self.assertEqual([answer.status_code for answer in answers], [201, 201, 409])
        self.assertEqual(Photo.objects.count(), 1)

    def test_what_is_no_photograph_is_refused(self) -> None:
        """A page with a picture's name, half a picture, a picture of another kind."""
        for content in (b"<svg onload=alert(1)>", picture()[:200], picture("GIF")):
            self.assertEqual(self.code(self.send(content)), (422, "not_a_photo"))
        self.assertEqual(Photo.objects.count(), 0)

    def test_a_picture_cut_short_is_none_though_papers_have_been_printed(self) -> None:
        """The library of the papers is content with pictures that end early; a photograph of record is not."""
        import weasyprint  # noqa: F401  (switches its tolerance on for the process)
        from PIL import ImageFile

        self.assertTrue(ImageFile.LOAD_TRUNCATED_IMAGES)
        for kind in ("JPEG", "PNG"):
            content = picture(kind)
            self.assertEqual(self.code(self.send(content[: int(0.7 * len(content))])), (422, "not_a_photo"), kind)
        self.assertEqual(Photo.objects.count(), 0)
        self.assertTrue(ImageFile.LOAD_TRUNCATED_IMAGES)

    def test_a_large_picture_is_kept_smaller(self) -> None:
        """The longest edge is 2000 pixels."""
        kept = self.send(picture("PNG", (2600, 1300)), "x.png").json()["photos"][0]
        self.assertEqual((kept["width_px"], kept["height_px"]), (2000, 1000))


class Schedule(SurveyTest):
    """Labels of breakers."""

    def test_a_corrected_label_shows_on_every_loop_and_keeps_its_history(self) -> None:
        """Who, when, what it said before; a stale correction is refused."""
        address = f"/api/v1/circuits/{self.circuit.pk}/corrections/"
        body = {"version": 1, "label": "kiln + glaze", "feeds": "kiln room and glaze store", "how_found": "tripped it"}
        self.assertEqual(self.api.post(address, body, format="json").status_code, 201)
        self.assertEqual(self.code(self.api.post(address, body, format="json")), (409, "stale_version"))
        loop = self.api.get(f"/api/v1/loops/{self.loop.pk}/").json()
        self.assertEqual((loop["label_as_found"], loop["label_now"]), ("kiln", "kiln + glaze"))
        row = self.api.get(address).json()[0]
        self.assertEqual((row["label_before"], row["label"], row["by"]), ("kiln", "kiln + glaze", "The technician"))
        listed = self.api.get("/api/v1/circuits/", {"site": str(self.site.pk)}).json()["results"][0]
        self.assertEqual([entry["name"] for entry in listed["loops"]], ["Kiln room"])

    def test_papers_are_made(self) -> None:
        """Labels of the site and the pre-visit sheet of the loop are PDFs."""
        for address in (f"/api/v1/sites/{self.site.pk}/labels.pdf", self.at("visit.pdf")):
            answer = self.api.get(address)
            self.assertEqual((answer.status_code, answer.content[:5]), (200, b"%PDF-"))
