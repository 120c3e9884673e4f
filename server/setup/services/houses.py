"""The radio of a site: kept whole, refused when somebody kept another meanwhile, and what comes of it."""

from __future__ import annotations

from typing import Any

from django.db import transaction

from accounts.models import User
from audit import trail
from common.problems import Problem, StaleVersion
from ember_core.errors import InputError, InputErrors
from ember_core.house.document import EMPTY, House, Placed, read
from ember_core.house.fits import Fit, HubFits, fits
from ember_core.pairing.cards import cards
from ember_core.radio.mesh import Link
from ember_core.rules.names import confusions, proposed
from loops.models import Gang
from setup.models import House as HouseRow
from setup.services.marks import joined_at, linked_at
from sites.models import Site
from wording.texts import catalogue, fill

Json = dict[str, Any]


def house_row(site: Site) -> HouseRow:
    """What was noted of a site; an unsaved empty one where nothing was."""
    return HouseRow.objects.filter(site=site).first() or HouseRow(site=site, document=dict(EMPTY), version=0)


def house_of(site: Site) -> House:
    """The same, read."""
    return read(house_row(site).document)


def keep_house(who: User, site_pk: Any, version: int, document: Json) -> HouseRow:
    """Keep what was noted.

    Raises
    ------
    StaleVersion : somebody kept another meanwhile. InputErrors, Problem : something in it cannot be, a gang is none
        of this site, a device that has joined is missing, or a linked remote is meant for another; nothing is kept.
    """
    with transaction.atomic():
        site = Site.objects.select_for_update().get(pk=site_pk)
        row = house_row(site)
        if row.version != version:
            raise StaleVersion(
                yours=version, current_version=row.version, current={"document": row.document, "version": row.version}
            )
        house = read(document)
        _check_gangs(site, house)
        _check_joined(site, house)
        before = row.document
        _check_linked(site, read(before), house)
        row.document, row.version = document, version + 1
        row.save(force_insert=version == 0)
        trail.record(who, "radio kept", site, before=before, after=document)
    return row


def _check_gangs(site: Site, house: House) -> None:
    known = {str(pk) for pk in Gang.objects.filter(loop__site=site).values_list("pk", flat=True)}
    wrong = [
        InputError("gang_not_here", path=f"devices[{k}].gang")
        for k, device in enumerate(house.devices)
        if device.gang and device.gang not in known
    ]
    if wrong:
        raise InputErrors(wrong)


def _check_joined(site: Site, house: House) -> None:
    """A device that is in a network is not forgotten: it is reset first, and that is marked."""
    for hub, names in joined_at(site).items():
        there = {device.id for device in house.devices if device.hub == hub}
        for name in sorted(names - there):
            raise Problem(422, "device_has_joined", path="devices", name=name)


def _check_linked(site: Site, before: House, house: House) -> None:
    """A remote that drives its dimmer is not meant for another until it is reset, and that is marked."""
    linked = linked_at(site, before)
    meant = {device.id: device.dimmer for device in house.devices}
    for device in before.devices:
        if device.id in linked and meant.get(device.id) != device.dimmer:
            raise Problem(422, "remote_is_linked", path="devices", name=device.name)


def house_answer(site: Site) -> Json:
    """The document, what comes of it, and what it can be made of."""
    row = house_row(site)
    house = read(row.document)
    texts = catalogue("setup")
    joined = joined_at(site)
    return {
        "site": site.pk,
        "document": row.document,
        "version": row.version,
        "hubs": [_hub(found, house, joined.get(found.hub.id, set()), texts) for found in fits(house)],
        "names": _names(house, texts),
        "gangs": [
            {
                "id": gang.pk,
                "loop": gang.loop_id,
                "loop_name": gang.loop.name,
                "position": gang.position,
                "proposed": proposed(gang.loop.name, gang.name),
                "name": gang.name,
            }
            for gang in Gang.objects.filter(loop__site=site).select_related("loop").order_by("loop__name", "position")
        ],
        "cards": [
            {
                "code": card.code,
                "text": texts["cards"][card.code],
                "band": card.band.value,
                "kind": card.kind.value,
                "companion": card.companion.value,
                "window_s": card.window_s,
                "join_s": card.join_s,
                "how": how_to_enter(card.code),
                "shows": texts["shows"].get(card.shows, ""),
                "reset": fill(texts["resets"][card.reset.value], {"seconds": round(card.reset_s), "times": card.times}),
            }
            for card in cards().values()
        ],
    }


def how_to_enter(code: str) -> str:
    """How a kind of device is brought into pairing, in words."""
    card, texts = cards()[code], catalogue("setup")
    return str(fill(texts["enters"][card.act.value], {"seconds": round(card.act_s), "times": card.times}))


def _names(house: House, texts: Json) -> list[Json]:
    names = [device.name for device in house.devices]
    return [
        {
            "name": one.name,
            "other": one.other,
            "code": one.why.value,
            "text": fill(texts["confusions"][one.why.value], {"name": one.name, "other": one.other}),
        }
        for one in confusions(names)
    ]


def _hub(found: HubFits, house: House, joined: set[str], texts: Json) -> Json:
    hub = found.hub
    names = {hub.id: hub.name, **{device.id: device.name for device in house.devices}}
    return {
        "id": hub.id,
        "name": hub.name,
        "room": hub.room,
        "takes": hub.takes,
        "has": hub.has,
        "left": found.left,
        "wants": len(found.fits) + len(found.wrong_family),
        "is_full": found.is_full,
        "text": _capacity(found, texts),
        "devices": [_fit(fit, names, joined, texts) for fit in found.fits if fit.device.id not in found.not_listed]
        + [_not_taken(house, name, "not_listed", texts) for name in found.not_listed]
        + [_not_taken(house, name, "wrong_family", texts) for name in found.wrong_family],
        "links": [_link(link) for link in found.links],
        "cut_points": [
            {"id": name, "text": fill(texts["cut_point"], {"name": names[name]})} for name in found.cut_points
        ],
        "crowded": [fill(texts["crowded"], {"name": names[name]}) for name in found.crowded],
        "full_points": [
            fill(texts["full_point"], {"name": point.name, "wants": count, "left": left})
            for point, count, left in found.full_points
        ],
        "channel": None
        if found.channels is None
        else {
            "best": found.channels.best,
            "overlap_mhz": [{"channel": channel, "mhz": mhz} for channel, mhz in found.channels.overlap_mhz.items()],
            "text": fill(
                texts["channel"],
                {"best": found.channels.best, "mhz": round(found.channels.overlap_mhz[found.channels.best], 1)},
            ),
        },
    }


def _capacity(found: HubFits, texts: Json) -> str:
    wants = len(found.fits) + len(found.wrong_family)
    if found.left is None:
        return str(fill(texts["room_unknown"], {"wants": wants}))
    return str(fill(texts["room_full" if found.is_full else "room_left"], {"wants": wants, "left": found.left}))


def _fit(fit: Fit, names: dict[str, str], joined: set[str], texts: Json) -> Json:
    device = fit.device
    verdict = "unknown" if fit.verdict is None else fit.verdict.value
    weakest = fit.weakest
    params = {
        "hops": fit.hops or 0,
        "margin": 0 if weakest is None else round(weakest.margin_db.typical),
        "low": 0 if weakest is None else round(weakest.margin_db.low),
        "high": 0 if weakest is None else round(weakest.margin_db.high),
        "a": "" if weakest is None else names.get(weakest.a, weakest.a),
        "b": "" if weakest is None else names.get(weakest.b, weakest.b),
    }
    why = "unknown_why" if fit.verdict is None else "no_way_why" if weakest is None else "way_why"
    told = [fill(texts[why], params)]
    if fit.unseen_db > 0.0:
        told.append(fill(texts["metal_unseen"], {"lost": round(fit.unseen_db)}))
    return {
        **_device(device),
        "verdict": verdict,
        "verdict_text": texts["verdicts"][verdict],
        "hops": fit.hops,
        "margin_db": None if weakest is None else weakest.margin_db.typical,
        "margin_low_db": None if weakest is None else weakest.margin_db.low,
        "margin_high_db": None if weakest is None else weakest.margin_db.high,
        "why": " ".join(told),
        "helps": [texts["helps"][one.value] for one in fit.helps],
        "has_joined": device.id in joined,
    }


def _device(device: Placed) -> Json:
    return {
        "id": device.id,
        "name": device.name,
        "room": device.room,
        "gang": device.gang or None,
        "card": device.card.code,
    }


def _not_taken(house: House, name: str, why: str, texts: Json) -> Json:
    """A device that the hub takes in no case."""
    device = next(one for one in house.devices if one.id == name)
    return {
        **_device(device),
        "verdict": "no",
        "verdict_text": texts["verdicts"][why],
        "hops": None,
        "margin_db": None,
        "margin_low_db": None,
        "margin_high_db": None,
        "why": texts[f"{why}_why"],
        "helps": [texts["helps"]["second_hub"]],
        "has_joined": False,
    }


def _link(link: Link) -> Json:
    return {"a": link.a, "b": link.b, "margin_db": link.margin_db.typical, "verdict": link.verdict.value}
