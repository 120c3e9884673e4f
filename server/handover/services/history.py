"""What was done at a loop, as lines that a person reads, from the trail: who, when, what, from what to what."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from datetime import timedelta
from typing import Any

from django.db.models import Q

from audit.models import Change
from ember_core.handover.frozen import Line, differences
from fitting.services.standing import standing_of
from fitting.services.words import FitWords
from handover.services.lines import part_lines
from loops.models import Gang, Loop
from proving.services.answers import prove_answer
from survey.services.safety import name_of
from survey.services.words import Words
from wording.quantities import engineering
from wording.texts import catalogue, fill
from work.models import RouteChoice
from work.services.words import RouteWords

Json = dict[str, Any]
MOST_LINES = 500
# Entries of one kind by one person, no further apart than this, are one line.
TOGETHER = timedelta(minutes=30)
MERGED = frozenset({"read", "proving dead"})
_UNITS = {"lamp_v": "V", "line_i": "A", "period": "s", "start_supply_v": "V"}


class _Teller:
    """Words for the changes of one loop."""

    def __init__(self, loop: Loop) -> None:
        self._loop = loop
        self._texts = catalogue("handover")["history"]
        self._gangs = {gang.pk: gang for gang in Gang.everything.filter(loop=loop)}
        standing = standing_of(loop)
        self._fit = None if standing is None else FitWords(standing)
        self._items = {item["key"]: item["title"] for item in prove_answer(loop)["items"]}
        self._tells: dict[str, Callable[[Json, Json, Change], str]] = {
            "made": lambda before, after, change: self._plain("made_gang" if self._gang(change) else "made"),
            "kept": self._kept,
            "changed": self._changed,
            "chosen": self._chosen,
            "isolated": lambda before, after, change: self._say("isolated", what=self._breakers(after)),
            "lock put on": lambda before, after, change: self._say("lock_on", what=self._breakers(after)),
            "lock taken off": lambda before, after, change: self._say("lock_off", what=self._breakers(after)),
            "another's lock taken off": lambda before, after, change: self._say(
                "lock_off_by", owner=after.get("owner", ""), reason=after.get("reason", "")
            ),
            "re-energised": lambda before, after, change: self._say("power_back", what=self._breakers(after)),
            "photographed": self._photographed,
            "measured": self._measured,
            "case opened": lambda before, after, change: self._say("case_opened", number=after.get("case", "")),
            "case evidence": self._evidence,
            "case closed": self._closed,
            "case opened again": lambda before, after, change: self._say("case_again", number=after.get("case", "")),
            "issued": lambda before, after, change: self._say("issued", number=after.get("number", "")),
            "signed": self._signed,
            "asked back": lambda before, after, change: self._say(
                "asked_back", number=after.get("number", ""), note=after.get("note", "")
            ),
            "archived": lambda before, after, change: self._say("archived", reason=after.get("reason", "")),
            "struck": lambda before, after, change: self._say("struck", reason=after.get("reason", "")),
        }

    def __call__(self, change: Change, count: int) -> str:
        """A change in words, with the gang that it is of where there are several."""
        before = change.before if isinstance(change.before, dict) else {}
        after = change.after if isinstance(change.after, dict) else {}
        said = self._said(change, before, after, count)
        gang = self._gang(change)
        if gang is not None and len(self._gangs) > 1:
            number = gang.name or fill(catalogue("handover")["lines"]["gang"], {"number": gang.position})
            return f"{number}: {said}"
        return said

    def _said(self, change: Change, before: Json, after: Json, count: int) -> str:
        action = change.action
        if action in MERGED:
            return str(fill(self._texts[action.replace(" ", "_")], {"count": count}))
        if action in self._tells:
            return self._tells[action](before, after, change)
        if action.startswith("fitting: "):
            return self._of_step(action.removeprefix("fitting: "), after)
        if action.startswith("proving: "):
            return self._of_item(action.removeprefix("proving: "), after)
        if action.startswith("step "):
            step = Words(self._loop.site.region).text("steps", after["step"]) if after.get("step") else ""
            return self._say(action.replace(" ", "_"), step=step, reason=after.get("reason", ""))
        plain = self._texts["plain"].get(action.replace(" ", "_"))
        return str(plain) if plain is not None else action

    def _say(self, code: str, **params: Any) -> str:
        return str(fill(self._texts[code], {name: str(value) for name, value in params.items()}))

    def _plain(self, code: str) -> str:
        return str(self._texts[code])

    def _gang(self, change: Change) -> Gang | None:
        return self._gangs.get(change.subject_id)

    def _breakers(self, after: Json) -> str:
        names = after.get("breakers") or []
        if not names:
            return str(catalogue("handover")["lines"]["whole"])
        return str(fill(self._texts["breakers"], {"names": ", ".join(names)}))

    def _kept(self, before: Json, after: Json, change: Change) -> str:
        found = differences(_lines(before), _lines(after))
        told = [
            f"{one.label}: " + fill(catalogue("handover")["changes"][one.change.value], _ends(one.before, one.after))
            for one in found
        ]
        return "; ".join(told) or self._plain("kept")

    def _changed(self, before: Json, after: Json, change: Change) -> str:
        names = self._texts["names"]
        told = [
            f"{names.get(name, name)}: {before.get(name) or '–'} → {after.get(name) or '–'}"
            for name in after
            if before.get(name) != after.get(name) and not isinstance(after.get(name), dict | list)
        ]
        return "; ".join(told) or self._plain("changed")

    def _chosen(self, before: Json, after: Json, change: Change) -> str:
        titles = RouteWords(self._loop.site.region).texts["ways"]
        way = titles.get(after.get("way", ""), {}).get("title", "")
        return self._say("chosen", way=": ".join(part for part in (way, after.get("control", "")) if part))

    def _photographed(self, before: Json, after: Json, change: Change) -> str:
        moment = catalogue("handover")["lines"]["moments"].get(after.get("moment", ""), "")
        return self._say("photographed", what=", ".join(one for one in (moment, after.get("caption", "")) if one))

    def _measured(self, before: Json, after: Json, change: Change) -> str:
        survey = catalogue("survey")
        kind = after.get("kind", "")
        if after.get("seen"):
            value = str(survey["seen"].get(after["seen"], after["seen"]))
        else:
            value = engineering(float(after.get("value", 0.0)), _UNITS.get(kind, "1"))
        return f"{survey['measured'].get(kind, kind)}: {value}"

    def _evidence(self, before: Json, after: Json, change: Change) -> str:
        words, given = catalogue("diagnosis"), after.get("outcome") or ""
        test = words["tests"].get(after.get("test", ""), {})
        # Nobody knows, or it cannot be done: answers to every test.
        outcome = test.get("outcomes", {}).get(given) or words.get(given) or after.get("value", "")
        return self._say("evidence", number=after.get("case", ""), test=test.get("title", ""), outcome=outcome)

    def _closed(self, before: Json, after: Json, change: Change) -> str:
        cause = catalogue("diagnosis")["causes"].get(after.get("cause", ""), {})
        return self._say("case_closed", number=after.get("case", ""), cause=cause.get("title", after.get("cause", "")))

    def _signed(self, before: Json, after: Json, change: Change) -> str:
        texts = catalogue("handover")
        role, way = texts["signers"].get(after.get("role", ""), ""), texts["ways"].get(after.get("way", ""), "")
        return self._say("signed", number=after.get("number", ""), role=role, way=way)

    def _of_step(self, outcome: str, after: Json) -> str:
        key = after.get("step", "")
        title = key if self._fit is None else self._fit.title(key)
        code = self._texts["outcomes"].get(outcome, outcome)
        return _because(f"{title.rstrip('.')}: {code}", after.get("reason", ""))

    def _of_item(self, outcome: str, after: Json) -> str:
        results = catalogue("proving")["results"]
        title = self._items.get(after.get("item", ""), after.get("item", ""))
        said = results.get(after.get("result", "")) or self._texts["outcomes"].get(outcome, outcome)
        return _because(f"{title}: {said}", after.get("reason", ""))


def _because(text: str, reason: str) -> str:
    told = catalogue("handover")["history"]["because"]
    return str(fill(told, {"what": text, "reason": reason})) if reason else text


def _ends(before: str, after: str) -> Json:
    return {"before": before, "after": after}


def _lines(document: Json) -> list[Line]:
    """The parts of a gang as the trail keeps it."""
    if not {"control", "bypasses", "lamps"} <= set(document):
        return []
    return [Line(key=key, section="", label=label, value=value) for key, label, value in part_lines(document)]


def history_of(loop: Loop) -> list[Json]:
    """What was done, newest first; entries that belong together are one line with their count."""
    subjects = [loop.pk, *Gang.everything.filter(loop=loop).values_list("pk", flat=True)]
    subjects += RouteChoice.objects.filter(loop=loop).values_list("pk", flat=True)
    rows = Change.objects.filter(Q(subject_id__in=subjects)).select_related("who").order_by("-at", "id")[:MOST_LINES]
    teller = _Teller(loop)
    return [
        {"at": change.at, "who": name_of(change.who), "text": teller(change, count), "count": count}
        for change, count in _together(rows)
    ]


def _together(rows: Iterable[Change]) -> list[tuple[Change, int]]:
    found: list[tuple[Change, int]] = []
    last = None
    for row in rows:
        is_same = (
            last is not None
            and row.action in MERGED
            and (row.action, row.who_id) == (last.action, last.who_id)
            and last.at - row.at <= TOGETHER
        )
        if is_same:
            change, count = found[-1]
            found[-1] = (change, count + 1)
        else:
            found.append((row, 1))
        last = row
    return found
