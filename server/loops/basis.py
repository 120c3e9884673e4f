"""What a judgement was made on, and whether that still holds."""

from __future__ import annotations

from typing import Any

from ember_core import CORE_VERSION
from loops.models import Gang
from sites.models import Site

Json = dict[str, Any]
# What of a site goes into a judgement or its words.
OF_SITE = ("region", "v_rms", "f_hz", "tolerance_ratio")


def basis_of(site: Site) -> Json:
    """What a judgement made now stands on."""
    return {"core": CORE_VERSION, **{name: getattr(site, name) for name in OF_SITE}}


def older_parts(gang: Gang) -> Json:
    """The same of a gang whose parts have other figures on the shelf by now."""
    return {**gang.judged_on, "parts": "older"}


def outdated(judged_on: Json, site: Site) -> str:
    """Why a judgement no longer holds: `site`, `parts` or `core`; empty where it does, or where there is none."""
    if not judged_on:
        return ""
    if any(name in judged_on and judged_on[name] != getattr(site, name) for name in OF_SITE):
        return "site"
    if judged_on.get("parts"):
        return "parts"
    return "" if judged_on.get("core") == CORE_VERSION else "core"
