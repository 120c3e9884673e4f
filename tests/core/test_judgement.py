"""Verdicts with their reasons, and words for every one."""

from __future__ import annotations

import string
from dataclasses import fields, replace

from django.test import SimpleTestCase

from ember_core import sheet
from ember_core.findings import Severity
from ember_core.judgement import CAUTIONS, CODES, VERDICT_OF, Verdict, judge
from ember_core.loop import Loop
from ember_core.parts import Control, FilamentLamp, ResistorBypass
from ember_core.sheet import Sheet
from tests.core.loops import DROPPER, FEED, LAMP, RELAY, capacitor, loop
from wording.quantities import engineering, in_words
from wording.texts import catalogue, vocabulary_of


def judged(drawn: Loop):
    """Judge a loop without names and sources."""
    return judge(Sheet(loop=drawn), with_meter=False)


EARLY = replace(LAMP, v_start_v=60.0, v_stop_v=30.0)
LOOPS: tuple[tuple[Loop, Verdict, str], ...] = (
    (loop(bypass=(capacitor(2.2e-7),)), Verdict.DARK, "lamps_dark_below_start"),
    (loop(lamps=(EARLY,)), Verdict.CLOSE, "lamps_close_to_start"),
    (loop(bypass=(), lamps=(EARLY,)), Verdict.BLINK, "lamps_blink"),
    (loop(bypass=(), lamps=(DROPPER,)), Verdict.GLOW, "lamps_glow_string"),
    (loop(bypass=(capacitor(4.7e-7),), lamps=(DROPPER,)), Verdict.DARK, "lamps_dark_string"),
    (loop(bypass=(), lamps=(FilamentLamp(count=1, r_cold_ohm=110.0),)), Verdict.DARK, "lamps_dark_filament"),
    (loop(control=Control(r_leak_ohm=1.5e5), bypass=(), lamps=(EARLY,)), Verdict.BLINK, "ordinary_switch_leak"),
    (loop(control=Control(), bypass=(capacitor(1e-7),)), Verdict.DARK, "ordinary_switch"),
    (
        loop(
            control=replace(RELAY, standby=replace(FEED, p_w=0.55)),
            lamps=(replace(LAMP, v_start_v=380.0, v_stop_v=300.0),),
        ),
        Verdict.MARGINAL,
        "control_marginal",
    ),
    (
        loop(
            control=replace(RELAY, standby=replace(FEED, p_w=1.5)),
            lamps=(replace(LAMP, v_start_v=390.0, v_stop_v=380.0),),
        ),
        Verdict.STARVED,
        "control_starved",
    ),
)


class Verdicts(SimpleTestCase):
    """One loop for each word."""

    def test_each_verdict_comes_with_its_reason(self) -> None:
        """The verdict, and the finding that makes it, for loops on both sides of each limit."""
        for drawn, verdict, code in LOOPS:
            with self.subTest(verdict=verdict, code=code):
                made = judged(drawn)
                self.assertIs(made.verdict, verdict)
                self.assertIn(code, [finding.code for finding in made.findings])

    def test_the_verdict_is_the_worst_that_a_reason_makes(self) -> None:
        """What is said of the loop and of each of its reasons is one story; the words run from worst to best."""
        worst = [Verdict.STARVED, Verdict.BLINK, Verdict.GLOW, Verdict.UNKNOWN, Verdict.MARGINAL, Verdict.CLOSE]
        self.assertLessEqual(set(VERDICT_OF), set(CODES))
        for drawn, verdict, _ in LOOPS:
            made = {VERDICT_OF[found.code] for found in judged(drawn).findings if found.code in VERDICT_OF}
            self.assertIs(next((one for one in worst if one in made), Verdict.DARK), verdict)

    def test_what_stops_the_work_is_told_first(self) -> None:
        """Findings come in the order of their severity."""
        made = judged(LOOPS[-1][0])
        self.assertIs(made.findings[0].severity, Severity.STOP)
        order = [list(Severity).index(finding.severity) for finding in made.findings]
        self.assertEqual(order, sorted(order))

    def test_a_blink_is_told_before_the_control_that_is_fed_meanwhile(self) -> None:
        """The deciding reason leads."""
        made = judged(loop(bypass=(), lamps=(EARLY,)))
        self.assertEqual(made.findings[0].code, "lamps_blink")
        self.assertIn("control_fed_while_blinking", [finding.code for finding in made.findings])

    def test_every_reference_of_a_finding_is_an_input_of_the_loop(self) -> None:
        """The paths that a reason names exist in the loop or are parts of it."""
        for drawn, _, _ in LOOPS:
            document = sheet.write(Sheet(loop=drawn))
            for finding in judged(drawn).findings:
                for path in finding.refs:
                    self.assertIn(path.split("[")[0].split(".")[0], {*document, "bypass"}, path)

    def test_meters_load_the_loop(self) -> None:
        """A low-impedance meter reads no more than a high-impedance one."""
        high, low = judge(Sheet(loop=loop(bypass=()))).meter
        self.assertGreater(high.v_rms, low.v_rms)

    def test_cautions_follow_what_is_fitted(self) -> None:
        """A capacitor brings its own caution, a bleeder another; some always show."""
        with_capacitor = judged(loop()).cautions
        with_resistor = judged(loop(bypass=(ResistorBypass(r_ohm=22e3),))).cautions
        self.assertIn("capacitor_class_and_charge", with_capacitor)
        self.assertNotIn("bypass_gets_warm", with_capacitor)
        self.assertIn("bypass_gets_warm", with_resistor)
        for always in ("terminals_live_when_off", "isolate_and_prove_dead", "no_borrowed_neutral", "local_code"):
            self.assertIn(always, with_resistor)


class Words(SimpleTestCase):
    """The text catalogue holds what the codes promise."""

    def test_every_finding_has_its_words_with_known_placeholders(self) -> None:
        """Title, figure, sentence and formula for each code; placeholders are its parameters or the region's words."""
        texts = catalogue("findings")
        self.assertEqual(set(texts), set(CODES))
        region_words = set(vocabulary_of("eu"))
        for code, entry in texts.items():
            self.assertEqual(set(entry), {"title", "figure", "text", "formula"}, code)
            for part in ("title", "figure", "text"):
                used = {name for _, name, _, _ in string.Formatter().parse(entry[part]) if name}
                self.assertLessEqual(used, set(CODES[code]) | region_words, code)

    def test_findings_carry_exactly_the_parameters_they_declare(self) -> None:
        """What is computed is what the words may mention."""
        for drawn, _, _ in LOOPS:
            for finding in judged(drawn).findings:
                self.assertEqual(set(finding.params), set(CODES[finding.code]), finding.code)

    def test_every_caution_and_verdict_has_its_words(self) -> None:
        """By code."""
        self.assertEqual(set(catalogue("cautions")), set(CAUTIONS))
        self.assertEqual(set(catalogue("verdicts")), {verdict.value for verdict in Verdict})

    def test_both_regions_have_the_same_words_to_fill(self) -> None:
        """No sentence is left open in one of them."""
        self.assertEqual(set(vocabulary_of("eu")), set(vocabulary_of("na")))

    def test_every_error_code_of_the_core_has_its_words(self) -> None:
        """Codes are gathered from the core's own source."""
        import re
        from pathlib import Path

        import ember_core

        source = "\n".join(p.read_text() for p in Path(ember_core.__file__).parent.rglob("*.py"))
        raised = set(re.findall(r"(?:InputError|ModelLimitError|SolverError|\.fail)\(\s*\"([a-z_]+)\"", source))
        self.assertGreater(len(raised), 15)
        self.assertLessEqual(raised, set(catalogue("errors")))

    def test_values_are_told_in_engineering_units(self) -> None:
        """Prefixes and rounding at their edges."""
        self.assertEqual(engineering(2.354e-3, "A"), "2.35 mA")
        self.assertEqual(engineering(999.6e-9, "F"), "1.00 µF")
        self.assertEqual(engineering(0.0, "V"), "0 V")
        self.assertEqual(in_words("delivered_ratio", 0.102), "10 %")
        self.assertEqual(in_words("power_ratio", 3.041), "3.04")
        self.assertEqual(in_words("group", 2), "2")
        self.assertEqual(in_words("flash_period_s", 0.13), "0.130 s")


class Fields(SimpleTestCase):
    """Names carry units."""

    def test_every_quantity_field_ends_in_its_unit(self) -> None:
        """`c_bulk_f` is in farad, `v_start_v` in volt, and so on, for every part."""
        from ember_core.parts import BYPASS_CLASSES, FEED_CLASSES, LAMP_CLASSES, Cable, Supply
        from ember_core.quantities import quantity_of

        endings = {"V": ("_v", "_rms"), "A": ("_a",), "W": ("_w",), "F": ("_f",), "Ω": ("_ohm",), "Hz": ("_hz",)}
        endings |= {
            "K": ("_k",),
            "1/K": ("_per_k",),
            "K/W": ("_k_per_w",),
            "1": ("count", "price", "_ratio", "settings"),
        }
        endings |= {"V/s": ("_v_per_s",), "J/K": ("_j_per_k",), "VA": ("_va",), "A²s": ("_a2s",), "m": ("_m",)}
        endings |= {"H": ("_h",), "s": ("_s",), "°": ("_deg",)}
        for part in (*LAMP_CLASSES, *BYPASS_CLASSES, *FEED_CLASSES, Cable, Supply, Control):
            for spec in fields(part):
                quantity = quantity_of(spec)
                if quantity is not None and not quantity.words:
                    self.assertTrue(spec.name.endswith(endings[quantity.unit]), f"{part.__name__}.{spec.name}")
