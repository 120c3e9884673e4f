"""Handing over: stages just met and just missed, gaps in the trace of dead work, what is frozen and what differs."""

from __future__ import annotations

import hashlib
import random
import unittest
from dataclasses import fields, replace

from ember_core.handover.frozen import GENESIS, Change, Line, canonical, chained, differences, digest
from ember_core.handover.stages import ORDER, Facts, Lack, Stage, lacks_of, standing_of
from ember_core.handover.unusual import DeadWork, Seen, Unusual, in_order, trace_gaps

WHOLE = Facts(
    boxes=1,
    boxes_known=1,
    gangs=2,
    gangs_judged=2,
    has_way=True,
    is_planned=True,
    steps=9,
    items=5,
    issues=1,
    is_signed=True,
    is_held=True,
    was_handed_over=True,
)


class Stages(unittest.TestCase):
    """Where a loop stands."""

    def test_each_stage_is_met_with_its_condition_and_not_one_short_of_it(self) -> None:
        """A whole record is handed over; each fact taken away leaves the stage that it is of unmet, and says why."""
        self.assertIs(standing_of(WHOLE).stage, Stage.HANDED_OVER)
        for changes, stage, lack in (
            ({"boxes_known": 0}, Stage.SURVEYED, Lack.CONDUCTORS),
            ({"boxes": 0, "boxes_known": 0}, Stage.SURVEYED, Lack.NO_BOX),
            ({"gangs_judged": 1}, Stage.JUDGED, Lack.NOT_JUDGED),
            ({"is_planned": False}, Stage.PLANNED, Lack.NO_VISIT),
            ({"steps_left": 1}, Stage.FITTED, Lack.NOT_FITTED),
            ({"items_left": 1}, Stage.PROVED, Lack.NOT_PROVED),
            ({"items": 0}, Stage.PROVED, Lack.NOT_PROVED),
            ({"items_failed": 1}, Stage.PROVED, Lack.FAILED),
            ({"issues": 0}, Stage.HANDED_OVER, Lack.NO_ISSUE),
            ({"is_signed": False}, Stage.HANDED_OVER, Lack.NOT_SIGNED),
            ({"is_held": False}, Stage.HANDED_OVER, Lack.CHANGED),
        ):
            found = lacks_of(replace(WHOLE, **changes))  # type: ignore[arg-type]  # drawn by name
            self.assertIn(lack, found[stage], changes)

    def test_what_is_not_fitted_is_never_proved_nor_handed_over(self) -> None:
        """Over drawn records: no later stage of the three is met where an earlier one is not."""
        draw = random.Random(20)
        for _ in range(3000):
            values = {
                spec.name: draw.random() < 0.5 if spec.type == "bool" else draw.randint(0, 2) for spec in fields(Facts)
            }
            facts = Facts(**values)  # type: ignore[arg-type]  # drawn by name
            lacks, standing = lacks_of(facts), standing_of(facts)
            for before, after in ((Stage.FITTED, Stage.PROVED), (Stage.PROVED, Stage.HANDED_OVER)):
                self.assertLessEqual(set(lacks[before]), set(lacks[after]), facts)
            if standing.stage is not Stage.REOPENED:
                self.assertEqual(lacks[standing.stage], ())
                self.assertTrue(all(lacks[stage] for stage in ORDER[ORDER.index(standing.stage) + 1 :]), facts)
                self.assertEqual(set(standing.gaps), {s for s in ORDER[: ORDER.index(standing.stage)] if lacks[s]})
            else:
                self.assertTrue(facts.open_cases and facts.was_handed_over)

    def test_parts_that_hang_there_without_a_way_are_fitted(self) -> None:
        """Without a way what is on record as fitted counts; with one only its steps do."""
        hanging = replace(WHOLE, has_way=False, steps=0, parts_hang=True)
        self.assertEqual(lacks_of(hanging)[Stage.FITTED], ())
        self.assertEqual(standing_of(hanging).gaps, {Stage.ROUTE_CHOSEN: (Lack.NO_WAY,)})
        self.assertNotEqual(lacks_of(replace(hanging, has_way=True))[Stage.FITTED], ())

    def test_a_complaint_opens_only_what_was_handed_over(self) -> None:
        """Before, it keeps it from being proved; after, it is open again."""
        self.assertIs(standing_of(replace(WHOLE, open_cases=1)).stage, Stage.REOPENED)
        before = standing_of(replace(WHOLE, open_cases=1, was_handed_over=False))
        self.assertEqual((before.stage, before.lacks), (Stage.FITTED, (Lack.COMPLAINT,)))


class Traces(unittest.TestCase):
    """Dead work and what kept the power off."""

    def work(self, at_s: float, proved_s: float | None, *off: tuple[float, float | None]) -> DeadWork:
        """One step."""
        return DeadWork(what="part the cores", at_s=at_s, off=(off,), proved_s=proved_s)

    def test_just_inside_and_just_outside(self) -> None:
        """At both ends of an isolation, with a proof under it and before it, with none."""
        for work, is_broken in (
            (self.work(100.0, 60.0, (50.0, 200.0)), False),
            (self.work(200.0, 60.0, (50.0, 200.0)), False),
            (self.work(200.1, 60.0, (50.0, 200.0)), True),
            (self.work(49.9, 49.0, (50.0, None)), True),
            (self.work(100.0, 49.9, (50.0, None)), True),
            (self.work(100.0, 50.0, (50.0, None)), False),
            (self.work(100.0, 100.1, (50.0, None)), True),
            (self.work(100.0, None, (50.0, None)), True),
            (self.work(100.0, 60.0), True),
            (self.work(150.0, 60.0, (50.0, 120.0), (140.0, 200.0)), True),
        ):
            self.assertEqual(bool(trace_gaps([work])), is_broken, work)

    def test_every_circuit_of_a_place_is_to_be_off(self) -> None:
        """Two feeds isolated one after the other: covered by both, proved after the later; none known: not covered."""
        both = (((50.0, None),), ((80.0, None),))
        for off, proved_s, is_broken in (
            (both, 80.0, False),
            (both, 79.9, True),
            ((((50.0, None),), ((101.0, None),)), 90.0, True),
            ((((50.0, None),), ()), 90.0, True),
            ((), 90.0, True),
        ):
            work = DeadWork(what="part the cores", at_s=100.0, off=off, proved_s=proved_s)
            self.assertEqual(bool(trace_gaps([work])), is_broken, work)

    def test_the_gravest_comes_first_and_each_once(self) -> None:
        """Whatever the order in which they were found."""
        found = [Seen(kind=kind, what=str(k % 2)) for k, kind in enumerate([*Unusual, *reversed(Unusual)])]
        random.Random(3).shuffle(found)
        ordered = in_order([*found, *found])
        self.assertEqual(len(ordered), len(set(found)))
        places = [list(Unusual).index(one.kind) for one in ordered]
        self.assertEqual(places, sorted(places))


class Freezing(unittest.TestCase):
    """Texts and digests."""

    def test_one_text_whatever_the_order_of_its_keys(self) -> None:
        """And the digest is the published one of SHA-256 for known texts."""
        self.assertEqual(canonical({"b": 1, "a": [1.5, "ü"]}), '{"a":[1.5,"ü"],"b":1}')
        self.assertEqual(canonical({"a": [1.5, "ü"], "b": 1}), canonical({"b": 1, "a": [1.5, "ü"]}))
        # FIPS 180-2, appendix B.1.
        self.assertEqual(digest("abc"), "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad")
        self.assertEqual(digest("ü"), hashlib.sha256("ü".encode()).hexdigest())
        with self.assertRaises(ValueError):
            canonical({"a": float("nan")})

    def test_a_chain_changes_with_each_part_and_with_where_it_is_cut(self) -> None:
        """Moved letters between parts, another order, another beginning."""
        first = chained(GENESIS, "ab", "c")
        others = {chained(GENESIS, "a", "bc"), chained(GENESIS, "c", "ab"), chained("1" * 64, "ab", "c")}
        self.assertNotIn(first, others)
        self.assertEqual(len(others), 3)

    def test_differences_are_all_there_is(self) -> None:
        """Applied to the older one they give the newer; equal ones have none; a label alone is no difference."""
        draw = random.Random(5)
        for _ in range(300):
            before, after = (
                [
                    Line(key=str(key), section="s", label=f"l{key}", value=str(draw.randint(0, 2)))
                    for key in draw.sample(range(8), draw.randint(0, 8))
                ]
                for _ in range(2)
            )
            told = {line.label: line.value for line in before}
            for one in differences(before, after):
                self.assertEqual(told.get(one.label, ""), one.before)
                if one.change is Change.GONE:
                    del told[one.label]
                else:
                    told[one.label] = one.after
            self.assertEqual(told, {line.label: line.value for line in after})
        line = Line(key="k", section="s", label="Gang 1", value="x")
        self.assertEqual(differences([line], [replace(line, label="Wippe 1")]), ())
