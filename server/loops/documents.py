"""A gang as one document, and the loop sheet made of it."""

from __future__ import annotations

import hashlib
import json
from typing import Any

from ember_core.routes.as_wired import Wired, figures_as_wired
from loops.models import FitStatus, FittedControl, Gang, WiredWord

Json = dict[str, Any]

# Where the supply of a sheet is from, in the language of the data.
SUPPLY = "site supply"
SUPPLY_AND_TOLERANCE = "site supply and its tolerance"


def fit_document(fit: Any) -> Json:
    """One part on a gang."""
    return {
        "part": str(fit.part_id) if fit.part_id else None,
        "label": fit.label,
        "status": fit.status,
        "figures": fit.figures,
    }


def control_document(control: FittedControl) -> Json:
    """The control of a gang, and how it hangs in the loop."""
    return {**fit_document(control), "wired": control.wired}


def gang_document(gang: Gang) -> Json:
    """Everything that can be edited of a gang; prefetch `control`, `bypasses` and `lamps`."""
    control = getattr(gang, "control", None)
    return {
        "id": str(gang.pk),
        "loop": str(gang.loop_id),
        "position": gang.position,
        "name": gang.name,
        "cable": gang.cable,
        "place": gang.place or None,
        "trims": gang.trims or None,
        "control": control_document(control) if control else None,
        "bypasses": [fit_document(item) for item in gang.bypasses.all()],
        "lamps": [fit_document(item) for item in gang.lamps.all()],
        "verdict": gang.verdict,
        "works": gang.works,
        "version": gang.version,
    }


def count_of(figures: Json) -> float:
    """How many lamps a group has [1]; where that is a range, the typical number."""
    count = figures.get("count", 1)
    return float(count["typical"] if isinstance(count, dict) else count)


def hung_of(gang: Gang) -> str:
    """A mark of the parts that hang on a gang: another one once a part is another, or another one less or more.

    Figures of a part of the shelf are no part of it: it hangs there whatever is known of it. Of what has none its
    figures are all that tells it from another. A control that is only planned is another one than when it is there,
    and a bypass that is only planned beside one that is there is none.
    """
    control = getattr(gang, "control", None)
    is_there = control is not None and control.status == FitStatus.FITTED
    bypasses = [one for one in gang.bypasses.all() if not is_there or one.status == FitStatus.FITTED]
    told = [
        None if control is None else [_part(control), control.wired, is_there],
        sorted(json.dumps(_part(one), sort_keys=True) for one in bypasses),
        [[_part(one), one.figures.get("count", 1)] for one in gang.lamps.all()],
    ]
    return hashlib.sha256(json.dumps(told, sort_keys=True).encode()).hexdigest()[:40]


def _part(fit: Any) -> Json:
    return {"part": str(fit.part_id)} if fit.part_id else {"label": fit.label, "figures": fit.figures}


def sheet_document(gang: Gang) -> Json:
    """The loop sheet of a gang; incomplete while control or lamps are missing."""
    document = gang_document(gang)
    return sheet_of(document, gang.loop.site, f"{gang.loop.site.name}, {gang.loop.name}, gang {gang.position}")


def sheet_of(document: Json, site: Any, name: str) -> Json:
    """The loop sheet of a gang document on a site, its control as it hangs in the loop."""
    sheet: Json = {
        "sheet_version": 1,
        "name": name[:200],
        "supply": {
            "v_rms": {
                "low": max(80.0, round(site.v_rms * (1 - site.tolerance_ratio), 3)),
                "typical": site.v_rms,
                "high": min(280.0, round(site.v_rms * (1 + site.tolerance_ratio), 3)),
                "source": "declared",
                "note": SUPPLY_AND_TOLERANCE,
            },
            "f_hz": {"typical": site.f_hz, "source": "declared", "note": SUPPLY},
        },
        "cable": document["cable"],
        "bypass": [item["figures"] for item in document["bypasses"]],
        "lamps": [item["figures"] for item in document["lamps"]],
    }
    if document["control"] is not None:
        control = document["control"]
        sheet["control"] = figures_as_wired(control["figures"], Wired(control.get("wired", WiredWord.LOOP)))
    return sheet
