"""Simulated boxes: a wiring practice with hidden roles, answered by the network model with noise and ghost voltages."""

from __future__ import annotations

from dataclasses import dataclass, replace
from random import Random

from ember_core.survey.box import ALONE, Box, Conductor, Material, Role, Terminal, Ways
from ember_core.survey.colours import COLOURS
from ember_core.survey.doubt import disputes
from ember_core.survey.practices import BY_ID, conductors_of
from ember_core.survey.readings import LAMP_POINTS, Position, Reading, Reference
from ember_core.wiring import metered

SUPPLIES = {"eu": (230.0, 50.0), "na": (120.0, 60.0)}
# Lamps by their input: blocking rectifiers of few or many nF, a filament.
LAMP_KINDS = ((3e6, 5e-9), (1e6, 3e-8), (2e6, 2e-7), (900.0, 1e-11))
METER_SPREAD = 0.015


@dataclass(frozen=True, slots=True, kw_only=True)
class Hidden:
    """A box with what nobody sees: the wiring, the roles, and how its switches really work."""

    box: Box
    region: str
    wiring: metered.Wiring
    roles: dict[str, Role]
    v_rms: float
    f_hz: float
    # By gang: conductors at the switch terminals, side and crossing of a two-way pair.
    far_ends: dict[int, tuple[str, bool, str, str]]

    def closures(self, switches: dict[str, Position]) -> list[tuple[str, str]]:
        """Pairs that the switches join."""
        joined = []
        for gang, ways in enumerate(self.box.gangs, 1):
            is_on = switches.get(str(gang), Position.OFF) is Position.ON
            other = switches.get(f"{gang}:other", Position.OFF) is Position.ON
            if ways is Ways.ONE_WAY:
                if is_on:
                    joined.append((f"{gang}:com", f"{gang}:l1"))
            elif ways is Ways.TWO_WAY:
                end, crossed, first, second = self.far_ends[gang]
                joined.append((f"{gang}:com", f"{gang}:l1" if is_on else f"{gang}:l2"))
                joined.append((end, first if other != crossed else second))
            else:
                end, crossed, first, second = self.far_ends[gang]
                joined.append((end, first if other != crossed else second))
                joined.append((f"{gang}:in_1", f"{gang}:out_1" if is_on else f"{gang}:out_2"))
                joined.append((f"{gang}:in_2", f"{gang}:out_2" if is_on else f"{gang}:out_1"))
        return joined

    def answer(self, asked: Reading, random: Random) -> Reading:
        """The reading with what a meter would show."""
        ends = (self._end(asked.a), self._end(asked.b))
        closures = self.closures(dict(asked.switches))
        if asked.supply_on:
            v = metered.read_voltage(
                self.wiring, closures, ends, v_rms=self.v_rms, f_hz=self.f_hz, meter_r_ohm=asked.meter_r_ohm or 1e7
            )
            shown = abs(v * random.gauss(1.0, METER_SPREAD) + random.gauss(0.0, 0.3))
            return replace(asked, v=round(shown, 1))
        # With every pole off the board's bar no longer joins neutrals and earth.
        bonds = self.wiring.bonds
        if asked.b == Reference.EARTH_ALONE:
            bonds = [bond for bond in bonds if metered.GROUND not in bond]
        r_ohm = metered.read_resistance(replace(self.wiring, bonds=bonds), closures, ends)
        if r_ohm is None:
            return replace(asked, is_open=True, r_ohm=None)
        return replace(asked, is_open=False, r_ohm=round(abs(r_ohm + random.gauss(0.2, 0.1)), 2))

    def _end(self, end: str) -> str:
        if end in (Reference.EARTH, Reference.EARTH_ALONE):
            return metered.GROUND
        if end == Reference.LINE:
            return metered.LINE
        if end == Reference.NEUTRAL:
            return metered.NEUTRAL
        for gang, point in enumerate(LAMP_POINTS, 1):
            if end == point:
                return f"lamp_{gang}"
        return end


def simulated(practices: list[str], region: str, seed: int, *, hide_terminals: bool = False) -> Hidden:
    """A box of these practices, a gang each, with everything hidden drawn from the seed."""
    random = Random(seed)
    v_nominal, f_hz = SUPPLIES[region]
    conductors: list[Conductor] = []
    point_of: dict[str, str] = {}
    roles: dict[str, Role] = {}
    lamps = {}
    bonds = []
    far_ends = {}
    sources: dict[str, complex] = {"neutral": complex(random.uniform(0.0, 2.0))}
    for gang, name in enumerate(practices, 1):
        practice = BY_ID[name]
        drawn = conductors_of(practice, region, gang, first=len(conductors) + 1)
        lamps[f"lamp_{gang}"] = random.choice(LAMP_KINDS)
        foreign = random.random() < 0.1
        swapped = random.random() < 0.5
        for conductor in drawn:
            point, role = _truth(conductor, practice.ways, gang, name, swapped, foreign)
            point_of[conductor.id] = point
            roles[conductor.id] = role
        conductors += drawn
        if practice.ways is Ways.ONE_WAY:
            live = "l1" if swapped else "com"
            bonds.append((f"{gang}:{live}", "line", 0.1))
            bonds.append((f"{gang}:{'com' if live == 'l1' else 'l1'}", f"lamp_{gang}", 0.1))
        elif practice.ways is Ways.TWO_WAY:
            is_feed_end = name == "two_way_feed_end"
            bonds.append((f"{gang}:com", "line" if is_feed_end else f"lamp_{gang}", 0.1))
            end = f"{gang}:far"
            bonds.append((end, f"lamp_{gang}" if is_feed_end else "line", 0.1))
            far_ends[gang] = (end, random.random() < 0.5, f"{gang}:l1", f"{gang}:l2")
        else:
            far_ends[gang] = ("line", random.random() < 0.5, f"{gang}:in_1", f"{gang}:in_2")
            bonds.append((f"{gang}:{random.choice(['out_1', 'out_2'])}", f"lamp_{gang}", 0.1))
    if random.random() < 0.3:
        extra = f"c{len(conductors) + 1}"
        conductors.append(Conductor(id=extra, cable="A", colour=random.choice(COLOURS), terminal=Terminal.LOOSE))
        point_of[extra], roles[extra] = f"free:{extra}", Role.UNUSED
    if random.random() < 0.4:
        conductors = [replace(c, colour=random.choice(COLOURS), sleeve="") for c in conductors]
    if hide_terminals:
        conductors = [replace(c, terminal=Terminal.UNKNOWN, gang=None) if c.gang is not None else c for c in conductors]
    cables = [
        (tuple(c.id for c in conductors if c.cable == cable), random.uniform(4.0, 20.0))
        for cable in sorted({c.cable for c in conductors})
    ]
    roles = _looped(conductors, roles)
    return Hidden(
        box=Box(
            gangs=tuple(BY_ID[name].ways for name in practices),
            conductors=tuple(conductors),
            circuits=1,
            material=Material.PLASTIC,
            all_listed=True,
        ),
        region=region,
        wiring=metered.Wiring(
            point_of=point_of,
            cables=cables,
            lamps=lamps,
            sources=sources,
            bonds=[*bonds, ("foreign_neutral", metered.GROUND, 0.3)],
        ),
        roles=roles,
        v_rms=v_nominal * random.uniform(0.93, 1.07),
        f_hz=f_hz,
        far_ends=far_ends,
    )


def _truth(conductor: Conductor, ways: Ways, gang: int, name: str, swapped: bool, foreign: bool) -> tuple[str, Role]:
    """Net and role of a conductor that a practice drew."""
    match conductor.terminal:
        case Terminal.EARTH:
            return metered.GROUND, Role.EARTH
        case Terminal.JOINT_1 | Terminal.JOINT_2 | Terminal.JOINT_3 if name == "feed_at_switch":
            return ("foreign_neutral", Role.FOREIGN_NEUTRAL) if foreign else ("neutral", Role.NEUTRAL)
        case Terminal.JOINT_1 | Terminal.JOINT_2 | Terminal.JOINT_3 if name == "two_way_feed_end":
            return f"lamp_{gang}", Role.SWITCHED_LIVE
        case Terminal.JOINT_1 | Terminal.JOINT_2 | Terminal.JOINT_3:
            return f"free:{gang}", Role.UNUSED
        case Terminal.COMMON if ways is Ways.ONE_WAY:
            return f"{gang}:com", Role.SWITCHED_LIVE if swapped else Role.PERMANENT_LIVE
        case Terminal.L1 if ways is Ways.ONE_WAY:
            return f"{gang}:l1", Role.PERMANENT_LIVE if swapped else Role.SWITCHED_LIVE
        case Terminal.COMMON:
            return f"{gang}:com", Role.PERMANENT_LIVE if name == "two_way_feed_end" else Role.SWITCHED_LIVE
    return f"{gang}:{conductor.terminal.value}", Role.TRAVELLER


def _looped(conductors: list[Conductor], roles: dict[str, Role]) -> dict[str, Role]:
    """Permanent lives that share a terminal are looped ones."""
    count: dict[tuple[int | None, Terminal], int] = {}
    for conductor in conductors:
        if conductor.terminal not in ALONE:
            key = (conductor.gang, conductor.terminal)
            count[key] = count.get(key, 0) + 1
    return {
        c.id: Role.LOOPED_LIVE
        if roles[c.id] is Role.PERMANENT_LIVE and count.get((c.gang, c.terminal), 1) > 1
        else roles[c.id]
        for c in conductors
    }


MISHAPS = ("contradictory", "mistyped", "wrong_range", "wrong_terminal")


@dataclass(slots=True)
class Operator:
    """Somebody with a meter who takes what is asked for, errs once, and strikes out what turns out to be wrong.

    `mishap` names the error: a reading that shows something else than it should, a decimal point in the wrong place,
    a meter on a range that tops out, leads on another conductor. It happens at the reading of number `when`.
    """

    hidden: Hidden
    random: Random
    mishap: str
    when: int
    taken: int = 0

    def take(self, asked: Reading) -> Reading:
        """The reading as it ends up on record."""
        shown = self.hidden.answer(asked, self.random)
        self.taken += 1
        if self.taken - 1 != self.when:
            return shown
        if self.mishap == "wrong_terminal":
            others = [c.id for c in self.hidden.box.conductors if c.id not in (asked.a, asked.b)]
            if others:
                wrong = self.hidden.answer(replace(asked, a=self.random.choice(others)), self.random)
                return replace(shown, v=wrong.v, r_ohm=wrong.r_ohm, is_open=wrong.is_open)
        if shown.v is None:
            # An open lead, or leads that touch.
            return replace(shown, is_open=not shown.is_open, r_ohm=None if not shown.is_open else 0.3)
        if self.mishap == "wrong_range":
            return replace(shown, v=min(shown.v, 60.0))
        if self.mishap == "mistyped":
            return replace(shown, v=round(shown.v * self.random.choice((0.01, 0.1)), 1))
        return replace(shown, v=0.4 if shown.v > 0.5 * self.hidden.v_rms else round(self.hidden.v_rms, 1))


def struck(box: Box, done: list[Reading], v_rms: float) -> list[Reading]:
    """Readings without those that two of three of their kind speak against."""
    counts: dict[str, int] = {}
    for dispute in disputes(box, done, v_rms):
        for reading in (dispute.first, dispute.second):
            counts[reading.id] = counts.get(reading.id, 0) + 1
    worst = max(counts, key=lambda name: counts[name], default=None)
    return [reading for reading in done if reading.id != worst or counts[reading.id] < 2]


def without_one(hidden: Hidden, random: Random, *, all_listed: bool) -> Hidden:
    """The same box with a conductor that nobody put on the list."""
    gone = random.choice(hidden.box.conductors).id
    left = tuple(conductor for conductor in hidden.box.conductors if conductor.id != gone)
    return replace(hidden, box=replace(hidden.box, conductors=left, all_listed=all_listed))


def switch_in_neutral(region: str, seed: int) -> Hidden:
    """A one-way box whose switch somebody put in the neutral: the lamps hang between it and the line."""
    hidden = simulated(["feed_at_ceiling"], region, seed)
    flip = {Role.PERMANENT_LIVE: Role.NEUTRAL, Role.SWITCHED_LIVE: Role.SWITCHED_NEUTRAL}
    bonds = [(a, "neutral" if b == "line" else b, r) for a, b, r in hidden.wiring.bonds]
    # A lamp hangs on neutral in the model: one between a net and the line is the same lamp seen from the other end.
    wired = replace(hidden.wiring, bonds=bonds, lamps={}, to_line=dict(hidden.wiring.lamps))
    return replace(hidden, wiring=wired, roles={name: flip.get(role, role) for name, role in hidden.roles.items()})
