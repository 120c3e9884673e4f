"""What is seen of a loop: each question once, and anew after a write."""

from __future__ import annotations

from loops.models import Loop
from loops.services.seen import Seen
from tests.server.base import ServerTest


def _name(seen: Seen) -> str:
    return Loop.objects.get(pk=seen.loop.pk).name


def _loud(seen: Seen) -> str:
    return seen.of(_name).upper()


class Once(ServerTest):
    """One change, several that ask."""

    def test_a_question_is_asked_once(self) -> None:
        """Whoever asks it, and through whichever other question."""
        seen = Seen(self.loop)
        with self.assertNumQueries(1):
            self.assertEqual((seen.of(_loud), seen.of(_name)), ("KILN ROOM", "Kiln room"))

    def test_nothing_is_an_answer_too(self) -> None:
        """A question that found nothing is not asked again."""
        asked: list[Seen] = []
        seen = Seen(self.loop)
        self.assertIsNone(seen.of(asked.append))
        self.assertIsNone(seen.of(asked.append))
        self.assertEqual(len(asked), 1)

    def test_after_a_write_another_one_sees(self) -> None:
        """The old one keeps what it saw; a new one reads what is there."""
        old = Seen(self.loop)
        self.assertEqual(old.of(_name), "Kiln room")
        Loop.objects.filter(pk=self.loop.pk).update(name="Drying room")
        self.assertEqual((old.of(_name), Seen(self.loop).of(_name)), ("Kiln room", "Drying room"))
