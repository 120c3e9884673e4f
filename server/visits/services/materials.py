"""What is taken along on a plan: the needs of its loops, merged, against the van and the shelf's prices."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from django.db import transaction

from accounts.models import User
from audit import trail
from common.problems import Problem, StaleVersion
from ember_core.fitting.materials import Item, Job, Need, Taken, kit_of, merged, needs_of, tools_of
from ember_core.fitting.steps import device_at
from ember_core.routes.points import is_aloft
from ember_core.routes.tasks import places_of
from ember_core.wiring.drawing import Control
from fitting.models import KitCheck
from loops.models import FitStatus, FittedBypass, FittedControl
from parts.models import Part
from parts.services.entries import part_key
from visits.models import Plan, VanItem
from visits.services.planning import Loaded, load
from wording.quantities import local_number
from wording.texts import catalogue, fill
from work.services.chosen import Chosen

Json = dict[str, Any]
MOST_COUNT = 10_000


def job_of(chosen: Chosen) -> Job:
    """A loop's chosen way as the list of materials sees it."""
    loop, choice = chosen.loop, chosen.choice
    is_there = choice.control in {
        str(key)
        for key in FittedControl.objects.filter(gang__loop=loop, status=FitStatus.FITTED).values_list(
            "part_id", flat=True
        )
    }
    there = {
        str(key)
        for key in FittedBypass.objects.filter(gang__loop=loop, status=FitStatus.FITTED).values_list(
            "part_id", flat=True
        )
    }
    controls = sum(isinstance(one, Control) for one in chosen.wanted.devices)
    boxes = [place for place in places_of(chosen.found, chosen.wanted) if not is_aloft(place)]
    return Job(
        loop=loop.name,
        region=loop.site.region,
        found=chosen.found,
        wanted=chosen.wanted,
        control=choice.control if chosen.part is not None and not is_there else "",
        controls=controls,
        hardware=chosen.hardware,
        bypasses=[entry["key"] for entry in choice.rated.get("bypass", []) if entry["key"] not in there],
        depth=chosen.depth,
        boxes=len(boxes),
        blank=sum(not device_at(place, chosen.wanted) for place in boxes),
    )


def materials_answer(row: Plan, visit: int | None = None) -> Json:
    """The list of a plan, or of one of its visits."""
    loaded = load(row)
    wanted = [
        key
        for key, job in loaded.rows.items()
        if key not in loaded.out and job.visit is not None and visit in (None, job.visit)
    ]
    jobs = [job_of(loaded.chosen[key]) for key in wanted]
    needs = [need for job in jobs for need in needs_of(job)]
    van = {item.key: item for item in VanItem.objects.all()}
    rows = merged(needs, {key: item.count for key, item in van.items()})
    parts = {str(part.pk): part for part in Part.objects.filter(pk__in=_parts(needs)).prefetch_related("claims")}
    texts = catalogue("fitting")
    prices = {key: _price(part) for key, part in parts.items()}
    answer = [_row(one, parts, prices, van, texts) for one in rows]
    known = [entry["cost"] for entry in answer if entry["cost"] is not None]
    return {
        "rows": answer,
        "tools": [{"tool": tool.value, "text": texts["tools"][tool.value]} for tool in tools_of(jobs)],
        "cost": sum(known),
        "unpriced": sum(entry["cost"] is None and entry["to_buy"] > 0 for entry in answer),
        "kits": _kits(loaded, wanted, texts),
        "loops": len(jobs),
    }


def _parts(needs: Iterable[Need]) -> list[str]:
    return [
        str(dict(need.spec)["part"])
        for need in needs
        if "part" in dict(need.spec) and part_key(str(dict(need.spec)["part"]))
    ]


def _price(part: Part) -> float | None:
    claim = next((c for c in part.claims.all() if c.in_use and c.field in ("price", "wiring.price")), None)
    return None if claim is None else claim.typical


def _row(
    one: Taken, parts: dict[str, Part], prices: dict[str, float | None], van: dict[str, VanItem], texts: Json
) -> Json:
    key = str(one.spec.get("part", ""))
    price = prices.get(key)
    item = van.get(one.key)
    is_length = one.item in (Item.WIRE, Item.CABLE)
    return {
        "item": one.item.value,
        "key": one.key,
        "text": item_text(one, parts, texts),
        "why": texts["item_why"][one.item.value],
        "needed": one.needed,
        "with_spare": one.with_spare,
        "in_van": one.in_van,
        "van_version": 0 if item is None else item.version,
        "to_buy": one.to_buy,
        "unit": "m" if is_length else "",
        "pack": one.pack,
        "price": price,
        "cost": None if price is None else price * one.to_buy,
        "loops": list(one.loops),
        "is_known": one.is_known,
    }


def item_text(one: Taken, parts: dict[str, Part], texts: Json) -> str:
    """A thing with its sizes, in words."""
    spec = one.spec
    routes = catalogue("routes")
    part = parts.get(str(spec.get("part", "")))
    params = {
        "part": str(spec.get("part", "")) if part is None else f"{part.maker} {part.name}",
        "height": local_number(f"{float(spec.get('height_m', 0.0)) * 1e3:.0f}"),
        "length": local_number(f"{float(spec.get('length_m', 0.0)) * 1e3:.3g}"),
        "thread": str(spec.get("thread", "")),
        "cores": int(float(spec.get("cores", 0))),
        "size": local_number(f"{float(spec.get('size_m2', 0.0)) * 1e6:.3g}"),
        "says": routes["marks"].get(str(spec.get("says", "")), ""),
        "colour": routes["colours"].get(str(spec.get("colour", "")), str(spec.get("colour", ""))),
    }
    return fill(texts["items"][one.item.value], params)


def _kits(loaded: Loaded, wanted: list[str], texts: Json) -> list[Json]:
    """Of each control with a kit that was not looked at, or lacks something."""
    found = []
    for key in wanted:
        chosen = loaded.chosen[key]
        if chosen.part is None or chosen.hardware is None:
            continue
        check = KitCheck.objects.filter(loop=chosen.loop, part=str(chosen.part.pk)).first()
        missing = [] if check is None else [name for name, there in check.found.items() if not there]
        if check is None or missing:
            found.append(
                {
                    "loop": chosen.loop.pk,
                    "name": chosen.loop.name,
                    "part": f"{chosen.part.maker} {chosen.part.name}",
                    "is_checked": check is not None,
                    "items": [texts["kit"][one.value] for one in kit_of(chosen.hardware)],
                    "missing": [texts["kit"][name] for name in missing],
                }
            )
    return found


def set_van(who: User, key: str, version: int, count: float) -> VanItem:
    """Say how much of something is in the van.

    Raises
    ------
    StaleVersion : somebody said something else meanwhile. Problem : a count that cannot be.
    """
    if not 0.0 <= count <= MOST_COUNT:
        raise Problem(422, "out_of_bounds", path="count", value=count, low=0, high=MOST_COUNT, unit="1")
    if key.partition(":")[0] not in {item.value for item in Item}:
        raise Problem(422, "unknown_item", path="key")
    with transaction.atomic():
        item = VanItem.objects.select_for_update().filter(key=key).first()
        current = 0 if item is None else item.version
        if item is not None and current == version + 1 and item.count == count:
            return item
        if current != version:
            raise StaleVersion(
                yours=version,
                current_version=current,
                current={"version": current, "count": 0.0 if item is None else item.count},
            )
        before = None if item is None else {"count": item.count}
        item = item or VanItem(key=key, version=0)
        item.count, item.version, item.by = count, current + 1, who
        item.save()
        trail.record(who, "van stock", item, before=before, after={"key": key, "count": count})
    return item
