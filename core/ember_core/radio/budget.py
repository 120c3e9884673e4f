"""Link budgets indoors: the path loss of ITU-R P.1238 with walls counted by kind, as a value with its range.

All figures are typical ones of their class. What a site really does is only known by measuring there, so every margin
has a range, and *sure* is said where even its low end keeps what fading takes.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from types import MappingProxyType


class Band(StrEnum):
    """What is spoken: IEEE 802.15.4 mesh, Wi-Fi (IEEE 802.11), or a band below 1 GHz."""

    MESH = "mesh_2g4"
    WIFI = "wifi_2g4"
    SUB_GHZ = "sub_ghz"


class Wall(StrEnum):
    """What a wall is made of, as far as waves are concerned."""

    PLASTERBOARD = "plasterboard"
    BRICK = "brick"
    STONE = "stone"
    CONCRETE = "concrete"
    FOIL = "foil"


class Verdict(StrEnum):
    """What a link is worth."""

    SURE = "sure"
    LIKELY = "likely"
    POOR = "poor"
    NO = "no"


@dataclass(frozen=True, slots=True, kw_only=True)
class Spread:
    """A value with its range [dB or dBm]."""

    low: float
    typical: float
    high: float


@dataclass(frozen=True, slots=True, kw_only=True)
class BandData:
    """Carrier [MHz], transmit power and sensitivity of a usual device [dBm], and what walls count of their loss [1]."""

    f_mhz: float
    tx_dbm: float
    sensitivity_dbm: float
    wall_factor: float


BANDS: Mapping[Band, BandData] = MappingProxyType(
    {
        Band.MESH: BandData(f_mhz=2440.0, tx_dbm=4.0, sensitivity_dbm=-97.0, wall_factor=1.0),
        Band.WIFI: BandData(f_mhz=2440.0, tx_dbm=16.0, sensitivity_dbm=-88.0, wall_factor=1.0),
        Band.SUB_GHZ: BandData(f_mhz=868.0, tx_dbm=12.0, sensitivity_dbm=-106.0, wall_factor=0.6),
    }
)
# Loss of one wall at 2.4 GHz [dB]. Ranges: our assumption, from thin and dry to thick and wet.
WALLS: Mapping[Wall, Spread] = MappingProxyType(
    {
        Wall.PLASTERBOARD: Spread(low=2.0, typical=3.0, high=5.0),
        Wall.BRICK: Spread(low=5.0, typical=7.0, high=12.0),
        Wall.STONE: Spread(low=10.0, typical=15.0, high=25.0),
        Wall.CONCRETE: Spread(low=10.0, typical=14.0, high=22.0),
        Wall.FOIL: Spread(low=14.0, typical=20.0, high=30.0),
    }
)
# A metal switch box about a control, and a plate of metal on it [dB].
METAL_BOX = Spread(low=8.0, typical=10.0, high=12.0)
METAL_PLATE = Spread(low=4.0, typical=6.0, high=8.0)
# Wanted above the sensitivity, so that people, doors and the hour of the day may take some [dB].
FADE_MARGIN_DB = 12.0
# How far transmit power and sensitivity of a device differ from what is typical; what the formula misses [dB].
DEVICE_DB, FORMULA_DB = 3.0, 4.0
# Loss grows with the distance as this times its logarithm [dB a decade].
DISTANCE_DB = 28.0
FIRST_FLOOR_DB, NEXT_FLOOR_DB = 15.0, 4.0
# Nearer than this the formula says nothing; the loss is no less there [m].
NEAREST_M = 1.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Path:
    """What lies between two places: distance [m], walls by kind, floors."""

    d_m: float
    walls: Mapping[Wall, int]
    floors: int = 0


@dataclass(frozen=True, slots=True, kw_only=True)
class Station:
    """One end of a link: transmit power, sensitivity [dBm], and what box and plate about it take [dB]."""

    tx_dbm: float
    sensitivity_dbm: float
    loss_db: float = 0.0


def path_loss_db(f_mhz: float, d_m: float, floors: int = 0) -> float:
    """Loss between two places indoors, without walls [dB].

    Source: ITU-R P.1238, with 28 dB a decade of distance and 15 + 4(n-1) dB for n floors.
    """
    through = FIRST_FLOOR_DB + NEXT_FLOOR_DB * (floors - 1) if floors > 0 else 0.0
    return 20.0 * math.log10(f_mhz) + DISTANCE_DB * math.log10(max(d_m, NEAREST_M)) + through - 28.0


def walls_db(band: Band, walls: Mapping[Wall, int]) -> Spread:
    """Loss of the walls between two places [dB]: those of one kind are alike, kinds differ by themselves."""
    factor = BANDS[band].wall_factor
    typical = factor * sum(count * WALLS[kind].typical for kind, count in walls.items())
    less = [factor * count * (WALLS[kind].typical - WALLS[kind].low) for kind, count in walls.items()]
    more = [factor * count * (WALLS[kind].high - WALLS[kind].typical) for kind, count in walls.items()]
    return Spread(low=typical - math.hypot(*less, 0.0), typical=typical, high=typical + math.hypot(*more, 0.0))


def margin_db(band: Band, one: Station, other: Station, path: Path) -> Spread:
    """Signal above the sensitivity, in the worse of both directions [dB].

    What differs by itself is added as squares: device, formula, walls.
    """
    through = path_loss_db(BANDS[band].f_mhz, path.d_m, path.floors)
    walls = walls_db(band, path.walls)
    lost = through + walls.typical + one.loss_db + other.loss_db
    there = one.tx_dbm - other.sensitivity_dbm
    back = other.tx_dbm - one.sensitivity_dbm
    typical = min(there, back) - lost
    doubt = (DEVICE_DB, DEVICE_DB, FORMULA_DB)
    return Spread(
        low=typical - math.hypot(*doubt, walls.high - walls.typical),
        typical=typical,
        high=typical + math.hypot(*doubt, walls.typical - walls.low),
    )


def verdict(margin: Spread) -> Verdict:
    """What a link is worth: *sure* keeps the fade margin at the low end, *likely* in the middle, *poor* loses it."""
    if margin.low >= FADE_MARGIN_DB:
        return Verdict.SURE
    if margin.typical >= FADE_MARGIN_DB:
        return Verdict.LIKELY
    return Verdict.POOR if margin.typical >= 0.0 else Verdict.NO


def station(band: Band, *, metal_box: bool = False, metal_plate: bool = False) -> Station:
    """A usual device of a band in its box."""
    of = BANDS[band]
    lost = METAL_BOX.typical * metal_box + METAL_PLATE.typical * metal_plate
    return Station(tx_dbm=of.tx_dbm, sensitivity_dbm=of.sensitivity_dbm, loss_db=lost)
