"""The demo's shelf as entries of the catalogue: made-up parts by category, with contradicting sources."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from demo.bypasses import BOXES, BYPASSES, CABLES, SPACERS
from demo.controls import BEHIND, CONTROLS, OTHER_SOURCES
from demo.figures import Shelf
from demo.hardware import HARDWARE, MORE
from demo.lamps import LAMPS
from ember_core.catalogue.entry import NO_FEED, WIRING, Category, Entry, claims_of

SHELVES: dict[Category, Shelf] = {
    Category.LAMP: LAMPS,
    Category.CONTROL: (*CONTROLS, *MORE, *BEHIND),
    Category.BYPASS: BYPASSES,
    Category.CABLE: CABLES,
    Category.BOX: BOXES,
    Category.SPACER: SPACERS,
}


def entries() -> list[Entry]:
    """Every part."""
    return [
        _entry(category, maker, name, v_rms, note, figures)
        for category, shelf in SHELVES.items()
        for maker, name, v_rms, note, figures in shelf
    ]


def _entry(
    category: Category, maker: str, name: str, v_rms: float | None, note: str, figures: dict[str, object]
) -> Entry:
    kind = figures.get("kind")
    if category is Category.CONTROL:
        standby = figures.get("standby")
        kind = standby["kind"] if isinstance(standby, dict) else NO_FEED
    others = {field: figure for part, field, figure in OTHER_SOURCES if part == name}
    claims = claims_of({**figures, **({WIRING: HARDWARE[name]} if name in HARDWARE else {})})
    claims += tuple(replace(claim, in_use=False) for claim in claims_of(_nested(others)))
    return Entry(
        maker=maker,
        name=name,
        category=category,
        kind=str(kind or category.value),
        v_rms=v_rms,
        note=note,
        claims=claims,
    )


def _nested(flat: Mapping[str, object]) -> dict[str, object]:
    """`standby.p_w` as a field of `standby`."""
    made: dict[str, object] = {}
    for field, figure in flat.items():
        head, _, rest = field.partition(".")
        if rest:
            inner = made.setdefault(head, {})
            if isinstance(inner, dict):
                inner[rest] = figure
        else:
            made[head] = figure
    return made
