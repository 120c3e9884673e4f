"""The comparison of ways in words."""

from __future__ import annotations

from typing import Any

from common.heavy import BUDGET_S
from common.streaming import Progress
from ember_core.bypass.place import Where
from ember_core.parts import PhaseMode
from ember_core.routes.comparing import compare, rate
from ember_core.routes.found import Feed
from ember_core.routes.half_wave import detector_chain, on_half_waves
from ember_core.routes.points import is_junction
from ember_core.routes.rated import Comparison, Rated, Value
from ember_core.routes.tasks import places_of
from ember_core.routes.ways import ALOFT, COMPANION_AT_WALL, IN_JUNCTION, OLD_SWITCH_STAYS, Way
from ember_core.times.minutes import said_minutes
from judging.services.summing import cause_text, tells_share
from wording.quantities import with_unit
from wording.texts import catalogue, fill
from work.services.finding import Loaded
from work.services.mapping import map_answer
from work.services.points import names_of
from work.services.words import RouteWords

Json = dict[str, Any]

# Where what stands against every way is mended, if not at the box: the parts of the bench, or what was seen outside.
MEND_AT = {
    "mixed_gangs": "parts",
    "several_circuits": "here",
    "live_in_the_drop": "here",
    "too_many_circuits": "",
    "several_stairs": "",
}


def standing_answer(loaded: Loaded) -> Json:
    """What the comparison stands on: what is assumed, what is open, and the order of values."""
    words = RouteWords(loaded.loop.site.region)
    found = loaded.ask.found
    assumed = [*found.assumed]
    if loaded.is_fitted:
        assumed.insert(0, "drawn_before_fitting")
    if loaded.is_assumed:
        assumed.insert(0, "box_assumed")
    return {
        "against": None if found.against is None else words.text("against", found.against),
        "mend_at": MEND_AT.get(found.against or "", "box"),
        "assumed": [words.text("assumed", code) for code in assumed],
        "open_roles": list(found.open_roles) if not loaded.is_assumed else [],
        "order": [{"value": value.value, "text": words.text("values", value.value)} for value in loaded.ask.order],
    }


def compare_answer(loaded: Loaded, progress: Progress) -> Json:
    """Every way, best first; told as they come."""

    def told(done: int, of: int, so_far: Comparison) -> bool:
        return progress(done, of, comparison_answer(loaded, so_far))

    found = compare(loaded.ask, told)
    answer = comparison_answer(loaded, found)
    if not found.is_complete:
        words = RouteWords(loaded.loop.site.region)
        answer["ended"] = fill(words.texts["ended"], {"time": f"{BUDGET_S:.0f} s", "count": len(found.rows)})
    return answer


def comparison_answer(loaded: Loaded, found: Comparison) -> Json:
    """A comparison, whole or so far."""
    words = RouteWords(loaded.loop.site.region)
    usable = [row for row in found.rows if row.is_usable]
    because = ""
    if found.because is not None and found.favoured is not None:
        value, other = found.because
        because = _said(words, "because", way=_title(words, found.favoured), other=_title(words, other), value=value)
    elif len(usable) == 1:
        because = words.texts["alone"]
    elif not usable and found.is_complete:
        because = words.texts["none_usable"]
    return {
        "rows": [row_answer(loaded, row, words) for row in found.rows],
        "favoured": None if found.favoured is None else found.favoured.value,
        "because": because,
        "elsewhere": [
            _said(words, "elsewhere", way=_title(words, way), value=value) for value, way in found.elsewhere.items()
        ],
        "is_complete": found.is_complete,
        "ended": "",
    }


def _said(words: RouteWords, code: str, **params: str | Value) -> str:
    given = {
        name: words.text("values", value.value) if isinstance(value, Value) else value for name, value in params.items()
    }
    return words.sentence(code, given)


def _title(words: RouteWords, way: Way) -> str:
    return str(words.texts["ways"][way.value]["title"])


def row_answer(loaded: Loaded, row: Rated, words: RouteWords) -> Json:
    """One way: everything that is compared, in words."""
    texts, way = words.texts, row.way
    overall = catalogue("overall")
    said: Json = {
        "way": way.value,
        "title": _title(words, way),
        "text": words.way(way.value),
        "against": None if row.against is None else words.text("against", row.against),
        "is_usable": row.is_usable,
    }
    is_assumed = any(one.key == row.control and one.is_assumed for one in loaded.ask.offered)
    kept = None if row.overall is None else _kept(row)
    height = "" if row.depth is None or row.depth.spacer_m is None else f"{row.depth.spacer_m * 1e3:.0f} mm"
    return {
        **said,
        "control": row.control,
        "control_name": "" if row.control is None else loaded.labels[row.control],
        "others": [{"key": key, "name": loaded.labels[key]} for key in row.others],
        "bypass": [{"gang": gang, "key": key, "name": loaded.labels[key]} for gang, key in (row.bypass or {}).items()],
        "works": row.works.value,
        "works_title": overall["works"][row.works.value]["title"],
        "works_text": "" if kept is None else cause_text(kept),
        "gang": row.gang,
        "well_count": 0 if row.overall is None else row.overall.well_count,
        "sample_count": 0 if row.overall is None else row.overall.sample_count,
        "is_share_told": kept is not None and tells_share(kept),
        "fit": None if row.depth is None else row.depth.fit.value,
        "fit_text": words.text("depth", _depth_word(row), {"height": height}),
        "dims": texts["dims"]["none"] if row.dims is None else catalogue("choices")[PhaseMode(row.dims).value],
        "hub": texts["hub"][row.without_hub],
        "power": texts["power"][row.after_power],
        "flipped": words.text("flipped", _flipped(way, loaded.ask.found.feed)),
        "isolation": words.text("isolation", _isolation(way)),
        "rule": words.text("rules", _rule(way)),
        "losses": [texts["losses"][code] for code in row.losses],
        "dims_mode": "" if row.dims is None else row.dims.value,
        "minutes": dict(zip(("likely", "within"), said_minutes(*row.minutes), strict=True)),
        "price": row.price,
        "is_reversible": row.is_reversible,
        "notes": [
            *([texts["terminals_assumed"]] if is_assumed else []),
            *([texts["pair_of_a_family"]] if way is Way.PAIR else []),
            *_in_junction(loaded, row, words),
            *(_experiment(loaded, words) if way is Way.HALF_WAVE else []),
        ],
        "cautions": [
            words.finding(finding)["text"]
            for finding in (row.route.proof.findings if row.route is not None and row.route.proof is not None else ())
            if row.against is None and finding.severity.value == "warn"
        ],
    }


def _in_junction(loaded: Loaded, row: Rated, words: RouteWords) -> list[str]:
    """The junction boxes that a way wants opened; that the bypass was meant for one which nobody saw."""
    found = loaded.ask.found.seats
    if found is None or row.route is None or row.route.wanted is None:
        return []
    names = [words.place(place) for place in places_of(found, row.route.wanted) if is_junction(place)]
    said = [words.sentence("in_junction", {"places": ", ".join(names)})] if names else []
    if names and row.way in IN_JUNCTION:
        said.append(words.texts["junction_room"])
    wants_one = any(place.where is Where.JUNCTION_BOX for place in loaded.ask.places.values())
    if wants_one and not names and row.way is Way.WITH_BYPASS:
        said.append(words.texts["junction_not_seen"])
    return said


def _experiment(loaded: Loaded, words: RouteWords) -> list[str]:
    """What the half-wave experiment would do on the bench: each lamp group, and the detector's resistors."""
    texts, said = words.texts["experiment"], []
    sheets = dict(sorted(loaded.ask.as_found.items()))
    for gang, sheet in sheets.items():
        for group in on_half_waves(sheet):
            shares = [
                fill(texts[state.value], {"percent": f"{share * 100:.0f} %"})
                for state, share in sorted(group.shares.items(), key=lambda entry: -entry[1])
            ]
            params = {"gang": gang, "group": group.group + 1, "shares": ", ".join(shares)}
            said.append(fill(texts["group"], params))
    if sheets:
        chain = detector_chain(next(iter(sheets.values())).loop.supply)
        said.append(
            fill(
                texts["chain"],
                {
                    "count": chain.count,
                    "each": with_unit(chain.each_ohm, "Ω"),
                    "heat": with_unit(chain.alone_w, "W"),
                    "volts": with_unit(chain.alone_v_peak, "V"),
                    "each_heat": with_unit(chain.each_w, "W"),
                    "each_volts": with_unit(chain.each_v_peak, "V"),
                },
            )
        )
    return said


def _kept(row: Rated) -> Json:
    found = row.overall
    if found is None:
        return {}
    return {
        "works": found.works.value,
        "cause": found.cause,
        "well_count": found.well_count,
        "sample_count": found.sample_count,
        "limit_rule": found.limit_rule,
        "conditions": list(found.conditions),
    }


def _depth_word(row: Rated) -> str:
    if row.way in (*ALOFT, Way.LEAVE):
        return "nothing"
    return "unknown" if row.depth is None else row.depth.fit.value


def _flipped(way: Way, feed: Feed) -> str:
    if way in (Way.LEAVE, Way.TIMER):
        return "switches"
    if way in (*OLD_SWITCH_STAYS, Way.MODULE_BEHIND_SWITCH):
        return "input"
    # Fed at the luminaire its drop is parted and made safe; else the live goes on through the box.
    return "bridged" if way in COMPANION_AT_WALL and feed is not Feed.CEILING else "gone"


def _isolation(way: Way) -> str:
    if way in (Way.LEAVE, Way.TIMER):
        return "switch"
    return "none" if way in (Way.MODULE_AT_LAMP, Way.MODULE_WITH_SWITCH, Way.DROP_AS_FEED) else "electronic"


def _rule(way: Way) -> str:
    if way is Way.LEAVE:
        return "none"
    if way is Way.NEW_NEUTRAL:
        return "licensed"
    if way is Way.DROP_AS_FEED:
        return "warning"
    return "remark" if way is Way.SPARE_AS_NEUTRAL else "usual"


def way_answer(loaded: Loaded, way: Way, control: str | None) -> Json:
    """One way with the control that is asked for, and its wire map."""
    row = rate(loaded.ask, way, control)
    words = RouteWords(loaded.loop.site.region)
    route, found = row.route, loaded.ask.found.seats
    wanted = None if row.against is not None or route is None else route.wanted
    drawn = None
    if wanted is not None and found is not None:
        one = next((one for one in loaded.ask.offered if one.key == row.control), None)
        torque_nm = None if one is None else one.hardware.torque_nm
        region = loaded.loop.site.region
        drawn = map_answer(found, wanted, region, names=names_of(loaded.loop), torque_nm=torque_nm)
    return {"row": row_answer(loaded, row, words), "map": drawn}
