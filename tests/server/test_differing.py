"""Two states of a record in words: each leaf that differs once, nothing that does not, nothing of the database."""

from __future__ import annotations

import json
import re
from typing import Any

from django.test import SimpleTestCase, tag
from django.utils import translation
from hypothesis import given, settings
from hypothesis import strategies as st

from wording.differing import Line, lines_between
from wording.moments import in_zone
from wording.texts import catalogue

KEY = "2329a14f-3560-438c-ba06-7d14b141b805"
CODES = st.sampled_from(["", "oak", "two_way"])
LEAVES = st.none() | st.booleans() | st.integers(0, 99) | st.floats(0.001, 1e3) | CODES
NAMES = st.sampled_from(["count", "p_run_w", "colour", "status", "is_known"])
STATES = st.dictionaries(
    NAMES,
    st.recursive(LEAVES, lambda inner: st.lists(inner, max_size=3) | st.dictionaries(NAMES, inner, max_size=3)),
    max_size=4,
)


def told(before: Any, after: Any, path: str = "lamps") -> list[tuple[str, str, str]]:
    """The lines as plain rows."""
    return [(one.name, one.before, one.after) for one in lines_between((path,), before, after)]


class Differing(SimpleTestCase):
    """By hand and drawn."""

    def test_each_leaf_by_the_words_on_the_way(self) -> None:
        """A figure with unit and source, a row that is new, a yes, a code; what is the same is not told."""
        before = [
            {"id": "1", "label": "Candle", "figures": {"count": 2, "p_run_w": {"typical": 4.0, "source": "measured"}}}
        ]
        after = [
            {"id": "2", "label": "Candle", "figures": {"count": 3, "p_run_w": {"typical": 5.0, "source": "declared"}}},
            {"id": "3", "label": "two_tone", "is_known": True, "status": "as_found"},
        ]
        self.assertEqual(
            told(before, after),
            [
                ("lamps · 1 · number", "2", "3"),
                ("lamps · 1 · power while running", "4.00 W measured", "5.00 W declared"),
                ("lamps · 2 · name", "", "two tone"),
                ("lamps · 2 · every conductor is listed", "", "yes"),
                ("lamps · 2 · planned or fitted", "", "as found"),
            ],
        )

    def test_a_source_of_the_shelf_says_of_what(self) -> None:
        """The figure by its name, its unit, where it is from, and that it is in use."""
        claim = {
            "field": "standby.p_w",
            "in_use": True,
            "low": 0.18,
            "typical": 0.2,
            "high": 0.22,
            "source": "declared",
        }
        ((name, before, after),) = told([], [claim], "claims")
        self.assertEqual((name, before), ("sources · 1", ""))
        self.assertRegex(after, r"200 mW declared \(in use\)$")

    def test_a_figure_has_the_unit_of_its_quantity_and_a_choice_its_word(self) -> None:
        """Units that no ending of a name tells: area, inductance, torque; no choice by its number."""
        for name, value, words in (
            ("size_m2", 2.5e-6, "2.50 mm²"),
            ("l_choke_h", 1.6e-3, "1.60 mH"),
            ("l_magnetising_h", 6.0, "6.00 H"),
            ("torque_nm", 0.5, "500 mN·m"),
            ("s_max_transformer_va", 200.0, "200 VA"),
            ("dimming", 1.0, "leading edge"),
        ):
            figure = {"typical": value, "source": "declared"}
            self.assertEqual([row[1:] for row in told(None, figure, name)], [("", f"{words} declared")])
            self.assertEqual([row[1:] for row in told(None, value, name)], [("", words)])
        self.assertEqual([row[1:] for row in told(None, 99.0, "dimming")], [("", "99.0")])

    def test_a_step_of_the_way_that_is_a_key_is_told_by_name(self) -> None:
        """When a breaker may be off stands under the breaker's key."""
        found = lines_between(("windows",), {KEY: [600]}, {KEY: [660]}, lambda column, key: f"{column} 14")
        self.assertEqual([one.name for one in found], ["when a circuit may be off · circuit 14"])

    def test_who_is_meant_and_when(self) -> None:
        """By name where somebody knows it, in the time of the site; nothing where nobody does."""
        named = {KEY: "Tam Osier"}
        with in_zone("America/New_York"):
            (who,) = lines_between(("assigned",), None, KEY, lambda column, key: named.get(key, ""))
            (when,) = lines_between(("closed_at",), None, "2026-11-30T14:00:00.000000+00:00")
        self.assertEqual(who, Line("whose work it is", "", "Tam Osier"))
        self.assertEqual(when, Line("on again", "", "2026-11-30 09:00 New York time"))
        self.assertEqual(told(None, KEY, "assigned"), [])

    def test_a_code_is_told_by_its_word_and_no_two_by_one(self) -> None:
        """In every language; what somebody wrote stays as it was written."""
        for spoken, fitted in (("en", "fitted"), ("de", "eingebaut")):
            with translation.override(spoken):
                ((_, before, after),) = told("planned", "fitted", "status")
                self.assertEqual(after, fitted)
                self.assertNotEqual(before, after)
                self.assertEqual([row[1:] for row in told(None, "fitted", "note")], [("", "fitted")])
                words = list(catalogue("records")["values"].values())
                self.assertEqual(len(words), len(set(words)), spoken)

    def test_what_differs_past_the_third_digit_is_told_with_more(self) -> None:
        """Two numbers that read alike are two."""
        self.assertEqual(told(230.0, 230.04, "v_rms"), [("voltage", "230", "230.04")])
        with translation.override("de"):
            self.assertEqual(told(230.0, 230.04, "v_rms"), [("Spannung", "230", "230,04")])

    @settings(max_examples=200, derandomize=True, database=None, deadline=None)
    @given(before=STATES, after=STATES)
    @tag("long")
    def test_nothing_is_told_of_what_is_alike_and_never_a_structure(self, before: Any, after: Any) -> None:
        """Drawn states: none of equal ones; back and forth tell the same lines; no brackets, no underscores."""
        self.assertEqual(told(before, json.loads(json.dumps(before))), [])
        there, back = told(before, after), told(after, before)
        self.assertEqual(sorted(there), sorted((name, two, one) for name, one, two in back))
        for line in there:
            self.assertIsNone(re.search(r"[\[\]{}_]", " ".join(line)), line)
