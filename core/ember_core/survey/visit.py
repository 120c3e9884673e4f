"""Before the visit: is a neutral likely (a hint, never a finding), what to ask, what to take along."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from ember_core.errors import InputError
from ember_core.findings import Finding, Severity

EARLIEST_YEAR = 1880
LATEST_YEAR = 2100


class Complaint(StrEnum):
    """What the customer says; not known until somebody has asked."""

    UNKNOWN = "unknown"
    NONE = "none"
    FLICKER_OFF = "flicker_off"
    GLOW_OFF = "glow_off"
    DROP_OUT = "drop_out"
    MISLABELLED = "mislabelled"
    OTHER = "other"


class Radio(StrEnum):
    """The radio network on site."""

    UNKNOWN = "unknown"
    NONE = "none"
    WIFI_2G4 = "wifi_2g4"
    MESH_802154 = "mesh_802154"
    SUB_GHZ = "sub_ghz"


class LampsKnown(StrEnum):
    """What is known of the lamps by telephone."""

    UNKNOWN = "unknown"
    LED = "led"
    FILAMENT = "filament"
    SMART = "smart"
    MIXED = "mixed"


# Faster than twenty a second is seen as steady; slower than one in five minutes is no rhythm.
LEAST_PERIOD_S, MOST_PERIOD_S = 0.05, 300.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Enquiry:
    """What was learned by telephone; `flash_period_s` from flash to flash as told [s].

    Raises `InputError` for a year or a count that cannot be.
    """

    wired_year: int | None = None
    complaint: Complaint = Complaint.UNKNOWN
    flash_period_s: float | None = None
    radio: Radio = Radio.UNKNOWN
    is_hub_in_range: bool | None = None
    devices_left: int | None = None
    lamps: LampsKnown = LampsKnown.UNKNOWN
    is_dimming_wanted: bool | None = None
    gang_count: int = 1
    is_switched_elsewhere: bool | None = None

    def __post_init__(self) -> None:
        if self.wired_year is not None and not EARLIEST_YEAR <= self.wired_year <= LATEST_YEAR:
            raise InputError(
                "out_of_bounds", path="wired_year", value=self.wired_year, low=EARLIEST_YEAR, high=LATEST_YEAR, unit=""
            )
        if self.flash_period_s is not None and not LEAST_PERIOD_S <= self.flash_period_s <= MOST_PERIOD_S:
            raise InputError(
                "out_of_bounds",
                path="flash_period_s",
                value=self.flash_period_s,
                low=LEAST_PERIOD_S,
                high=MOST_PERIOD_S,
                unit="s",
            )
        if self.devices_left is not None and not 0 <= self.devices_left <= 10_000:
            raise InputError("out_of_bounds", path="devices_left", value=self.devices_left, low=0, high=10_000, unit="")
        if not 1 <= self.gang_count <= 6:
            raise InputError("out_of_bounds", path="gang_count", value=self.gang_count, low=1, high=6, unit="")


@dataclass(frozen=True, slots=True, kw_only=True)
class VisitSheet:
    """Codes, in order; their words are in the text catalogue.

    Parameters
    ----------
    hint : `neutral_likely`, `neutral_unlikely` or `neutral_open`, with its reason; never more than a hint.
    ask : questions still open. bring : things to take along. notes : facts that the answers raise.
    """

    hint: Finding
    ask: tuple[str, ...]
    bring: tuple[str, ...]
    notes: tuple[Finding, ...]


# When rules or habit began to put a neutral into switch boxes. Hints from practice, by region [assumption].
_NEUTRAL_LIKELY_FROM = {"eu": 2015, "na": 2011}
_NEUTRAL_UNLIKELY_BEFORE = {"eu": 2000, "na": 1985}


def prepare(enquiry: Enquiry, region: str) -> VisitSheet:
    """The pre-visit sheet of a loop."""
    ask, bring, notes = _asked(enquiry), _brought(enquiry), []
    if enquiry.lamps is LampsKnown.SMART:
        notes.append(Finding(code="smart_lamps_need_power", severity=Severity.STOP))
    if enquiry.radio is Radio.WIFI_2G4:
        notes.append(Finding(code="wifi_on_2g4_only", severity=Severity.INFO))
    if enquiry.radio is Radio.NONE:
        notes.append(Finding(code="no_radio_yet", severity=Severity.WARN))
    if enquiry.is_hub_in_range is False:
        notes.append(Finding(code="hub_out_of_range", severity=Severity.WARN))
    if enquiry.devices_left is not None and enquiry.devices_left < enquiry.gang_count:
        notes.append(Finding(code="hub_is_full", severity=Severity.WARN, params={"count": enquiry.devices_left}))
    if enquiry.complaint in (Complaint.FLICKER_OFF, Complaint.GLOW_OFF):
        notes.append(Finding(code="off_state_complaint", severity=Severity.WARN))
    if enquiry.complaint is Complaint.MISLABELLED:
        notes.append(Finding(code="labels_not_trusted", severity=Severity.WARN))
    return VisitSheet(hint=_hint(enquiry, region), ask=ask, bring=bring, notes=tuple(notes))


def _hint(enquiry: Enquiry, region: str) -> Finding:
    year = enquiry.wired_year
    if year is None:
        return Finding(code="neutral_open", severity=Severity.INFO)
    if year >= _NEUTRAL_LIKELY_FROM.get(region, 2015):
        return Finding(code="neutral_likely", severity=Severity.INFO, params={"year": year})
    if year < _NEUTRAL_UNLIKELY_BEFORE.get(region, 2000):
        return Finding(code="neutral_unlikely", severity=Severity.INFO, params={"year": year})
    return Finding(code="neutral_open_year", severity=Severity.INFO, params={"year": year})


def _asked(enquiry: Enquiry) -> tuple[str, ...]:
    wanted = [
        (enquiry.wired_year is None, "when_wired"),
        (True, "photo_of_switch_and_board"),
        (enquiry.lamps is LampsKnown.UNKNOWN, "which_lamps"),
        (enquiry.is_switched_elsewhere is None, "switched_from_elsewhere"),
        (enquiry.radio is Radio.UNKNOWN, "which_radio"),
        (enquiry.is_hub_in_range is None and enquiry.radio is not Radio.NONE, "hub_in_range"),
        (enquiry.devices_left is None and enquiry.radio is not Radio.NONE, "devices_left"),
        (enquiry.is_dimming_wanted is None, "dimming_wanted"),
        (enquiry.complaint is Complaint.UNKNOWN, "any_complaint"),
        (enquiry.complaint is Complaint.OTHER, "complaint_in_words"),
        (enquiry.complaint in (Complaint.FLICKER_OFF, Complaint.GLOW_OFF), "how_often_it_flashes"),
        (True, "access_to_ceiling_and_board"),
    ]
    return tuple(code for is_wanted, code in wanted if is_wanted)


def _brought(enquiry: Enquiry) -> tuple[str, ...]:
    is_off_state = enquiry.complaint in (Complaint.FLICKER_OFF, Complaint.GLOW_OFF, Complaint.DROP_OUT)
    wanted = [
        (True, "two_pole_tester_and_proving_unit"),
        (True, "lock_off_kit"),
        (True, "meter_with_low_impedance"),
        (True, "sleeving_and_tape"),
        (True, "connectors"),
        (True, "spacers"),
        (enquiry.lamps is not LampsKnown.FILAMENT or is_off_state, "bypass_assortment"),
        (enquiry.lamps in (LampsKnown.UNKNOWN, LampsKnown.MIXED, LampsKnown.LED), "known_good_lamp"),
        (enquiry.is_dimming_wanted is not False, "both_phase_modes"),
        (enquiry.complaint is Complaint.MISLABELLED, "blank_breaker_labels"),
        (enquiry.lamps is LampsKnown.SMART, "module_for_luminaire"),
        (enquiry.radio is Radio.WIFI_2G4, "phone_on_2g4"),
    ]
    return tuple(code for is_wanted, code in wanted if is_wanted)
