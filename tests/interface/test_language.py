"""Each person reads their language, wherever they sign in; figures are typed and shown in it."""

from __future__ import annotations

import re

from django.test import tag
from playwright.sync_api import expect

from loops.models import Gang
from tests.interface.base import InterfaceTest


class Languages(InterfaceTest):
    """German beside English."""

    def test_german_is_chosen_kept_typed_and_left_again(self) -> None:
        """Words, commas, a half-typed figure's refusal; another person in another browser reads English."""
        page = self.sign_in("wren")
        page.get_by_role("button", name="Deutsch").click()
        expect(page.get_by_role("heading", name="Runde")).to_be_visible()
        expect(page.locator("html")).to_have_attribute("lang", "de")
        row = page.get_by_role("row", name="Kiln room")
        expect(row).to_contain_text("geht nicht")
        expect(row).to_contain_text("Licht aus: Die Lampen blinken.")
        expect(row.get_by_role("link", name="Abhilfe finden")).to_be_visible()
        page.get_by_role("link", name="Loft landing", exact=True).click()
        rail = page.get_by_role("navigation", name="Schritte der Werkbank")
        rail.get_by_role("button", name=re.compile("Teile$")).click()
        rail.get_by_role("button", name="Bypass", exact=True).click()
        field = page.get_by_label("Kapazität", exact=True)
        expect(field).to_have_value("100 nF")
        self.typed(field, "4,125µ")
        expect(field).to_have_value("4,125 µF")
        self.typed(field, "1.500")
        expect(page.get_by_text("Ein Punkt mit drei Ziffern")).to_be_visible()
        self.typed(field, "0,33u")
        page.get_by_role("button", name="Behalten", exact=True).click()
        expect(page.get_by_text("wie aufgezeichnet")).to_be_visible()
        figure = Gang.objects.get(loop__name="Loft landing").bypasses.get().figures["c_f"]
        self.assertEqual(figure["typical"], 3.3e-7)
        page.reload()
        expect(page.get_by_label("Kapazität", exact=True)).to_have_value("330 nF")
        # Somebody else in another browser, and the same person in a third one.
        expect(self.another("tam").get_by_role("heading", name="Round")).to_be_visible()
        context = self.browser.new_context(viewport=self.size, reduced_motion="reduce")
        self.addCleanup(context.close)
        elsewhere = context.new_page()
        elsewhere.goto(self.live_server_url)
        elsewhere.get_by_role("button", name="Use wren").click()
        expect(elsewhere.get_by_role("heading", name="Runde")).to_be_visible()
        elsewhere.get_by_role("button", name="English").click()
        expect(elsewhere.get_by_role("heading", name="Round")).to_be_visible()

    @tag("whole")
    def test_where_a_figure_is_from_is_told_in_german_too(self) -> None:
        """Beside the figures of each finding, and of the figures that decide; what somebody wrote stays."""
        page = self.sign_in("wren")
        page.get_by_role("button", name="Deutsch").click()
        page.get_by_role("link", name="Loft landing", exact=True).click()
        rail = page.get_by_role("navigation", name="Schritte der Werkbank")
        rail.get_by_role("button", name=re.compile("Urteil$")).click()
        why = page.get_by_role("complementary", name="Warum")
        why.get_by_role("button", name=re.compile("Formel daneben")).click()
        expect(why.get_by_text("angegeben, Netz des Ortes mit seiner Toleranz")).to_be_visible()
        sure = page.get_by_role("region", name="Wie sicher")
        expect(sure.locator(".deciding")).to_contain_text("angenommen")
        for panel in (why, sure):
            for english in ("declared", "measured", "assumed"):
                self.assertEqual(panel.get_by_text(re.compile(rf"\b{english}\b")).count(), 0, english)

    @tag("whole")
    def test_nobody_reads_the_language_of_who_was_here_before(self) -> None:
        """Signing out gives the device back; at the door it can be chosen for the device."""
        page = self.sign_in("wren")
        page.get_by_role("button", name="Deutsch").click()
        page.get_by_role("button", name="Abmelden").click()
        expect(page.get_by_role("heading", name="Sign in")).to_be_visible()
        page.get_by_role("button", name="Deutsch").click()
        expect(page.get_by_role("heading", name="Anmelden")).to_be_visible()
        self.typed(page.get_by_label("Name"), "wren")
        self.typed(page.get_by_label("Kennwort"), "wrong")
        page.get_by_role("button", name="Anmelden").click()
        expect(page.get_by_role("alert")).to_contain_text("Name oder Kennwort ist falsch")
