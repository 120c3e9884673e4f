"""The list of a loop as the API gives it."""

from __future__ import annotations

from typing import Any

from ember_core.proving.items import ACCUSTOM_S, BAD, PROMPTS_S, TRIED_DEAD, WATCH_S, Act, Item, Outcome, results_of
from loops.models import Gang, Loop
from loops.services.naming import told_apart
from loops.services.seen import Seen
from proving.models import Case, ProveMark
from proving.services.listing import Standing, lamps_of, prove_seen
from proving.services.power import is_isolated
from survey.services.safety import name_of
from wording.quantities import with_unit
from wording.texts import catalogue, fill, vocabulary_of
from work.services.points import number_of
from work.services.words import RouteWords

Json = dict[str, Any]


def prove_answer(loop: Loop, seen: Seen | None = None) -> Json:
    """Items with what was found, and whether the loop is proved.

    Parameters
    ----------
    seen : what the caller has found of it already.
    """
    standing = (seen or Seen(loop)).of(prove_seen)
    texts = catalogue("proving")
    counted = standing.counted
    outcomes = [counted[item.key].outcome if item.key in counted else Outcome.OPEN for item in standing.items]
    is_off = is_isolated(loop)
    count = {"open": outcomes.count(Outcome.OPEN), "failed": outcomes.count(Outcome.FAILED)}
    return {
        "items": [_item(item, standing, texts, is_off=is_off) for item in standing.items],
        "is_proved": standing.is_proved,
        "text": texts["proved"] if standing.is_proved else fill(texts["open_count"], count),
        "basis": standing.basis,
        "accustom_s": ACCUSTOM_S,
        "watch_s": WATCH_S,
        "prompts_s": list(PROMPTS_S),
        "open_cases": Case.objects.filter(loop=loop, is_open=True).count(),
    }


def _item(item: Item, standing: Standing, texts: Json, *, is_off: bool) -> Json:
    gang = next((one for one in standing.gangs if one.position == item.gang), None)
    mark = standing.marks.get(item.key)
    counts = mark is not None and standing.counts(mark)
    params = {
        "gang": _gang(gang, standing),
        "place": _place(item, standing),
        "lamps": 0 if gang is None else lamps_of(gang),
        "accustom": ACCUSTOM_S // 60,
        "watch": WATCH_S // 60,
    }
    is_alone = item.act is Act.SWITCHES and len(standing.places) == 1
    entry = texts["acts"]["switches_alone" if is_alone else item.act.value]
    bad, vocabulary = BAD[item.act], vocabulary_of(standing.loop.site.region)
    return {
        "key": item.key,
        "act": item.act.value,
        "gang": None if gang is None else gang.pk,
        "gang_position": item.gang,
        "title": _upper(fill(entry["title"], params, vocabulary)),
        "text": fill(entry["text"], params, vocabulary),
        "results": [
            {
                "code": code,
                "text": texts["results"][code],
                "is_good": code not in bad,
                "symptom": None if (found := bad.get(code)) is None else found.value,
            }
            for code in results_of(item.act)
        ],
        "shut": _shut(item, texts, is_off=is_off),
        "wants_off": item.act in TRIED_DEAD,
        "outcome": mark.outcome if mark is not None and counts else Outcome.OPEN.value,
        "result": mark.result if mark is not None and counts else "",
        "result_text": _found(mark, texts) if mark is not None and counts else "",
        "reason": mark.reason if mark is not None else "",
        "mark": None if mark is None else mark.pk,
        "is_old": mark is not None and not counts and mark.outcome != Outcome.OPEN.value,
        "at": None if mark is None else mark.made_at or mark.at,
        "by": "" if mark is None else name_of(mark.by),
    }


def _shut(item: Item, texts: Json, *, is_off: bool) -> str:
    wants_off = item.act in TRIED_DEAD
    if is_off is wants_off:
        return ""
    return str(texts["not_isolated" if wants_off else "isolated"])


def _found(mark: ProveMark, texts: Json) -> str:
    if not mark.result:
        return ""
    said = [str(texts["results"][mark.result])]
    if "period_s" in mark.detail:
        params = {
            "period": with_unit(mark.detail["period_s"], "s"),
            "spread": with_unit(mark.detail["spread_s"], "s"),
        }
        said.append(fill(texts["rhythm"], params))
    return ", ".join(said)


def _gang(gang: Gang | None, standing: Standing) -> str:
    """As told apart from the others of the list."""
    if gang is None:
        return ""
    names = told_apart([(one.position, one.name) for one in standing.gangs])
    return names[standing.gangs.index(gang)]


def _place(item: Item, standing: Standing) -> str:
    if not item.place:
        return ""
    name = standing.places.get(item.place, "")
    number = number_of(item.place)
    return name or str(RouteWords(standing.loop.site.region).place("box" if number == 1 else f"box{number}"))


def _upper(text: str) -> str:
    return text[:1].upper() + text[1:]
