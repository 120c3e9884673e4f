"""The worlds that a complaint may come from: each cause in a number of worlds, drawn from the ranges of the sheet."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ember_core.diagnosis.by_itself import BY_ITSELF
from ember_core.diagnosis.changes import INJECTED, changed_world
from ember_core.diagnosis.knowledge import Knowledge, knowledge
from ember_core.diagnosis.shows import Shows
from ember_core.diagnosis.world import Air, BypassIs, Dimming, World
from ember_core.lit.light import light_curve
from ember_core.lit.ranges import samples_of
from ember_core.loop import Loop
from ember_core.parts import IronCoreTransformerLamp, PhaseMode
from ember_core.sheet import Sheet
from ember_core.spread.variables import draw, loop_at, variables

# Worlds of the loop as recorded, and of each cause that is put in.
BASE, EACH = 40, 12
# Fewer sound worlds than this are not enough to put causes in; then all are taken.
FEWEST_SOUND = 4
# A firm's closed cases count against this many of the trade [assumption].
TRADE_CASES = 60.0
# Of a control that is in range, before anybody looked [dB; assumption]; and of rises of the mains by other loads [1].
MARGIN_DB = (12.0, 35.0)
STEP_RATIO = (0.005, 0.03)
# Where nothing tells what was set [°; assumption].
USUAL_DEG = (40.0, 60.0, 150.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class Particle:
    """A world with its cause.

    Parameters
    ----------
    sound : the world before the cause was put in; of a cause that the loop is by itself the same world.
    """

    cause: str
    shows: Shows
    sound: Shows


class Population:
    """Worlds with their weights before anything is known, for one sheet.

    Parameters
    ----------
    closed : closed cases of the firm by cause.
    """

    def __init__(self, sheet: Sheet, closed: Mapping[str, int], seed: int) -> None:
        self.sheet, self.seed = sheet, seed
        self.known: Knowledge = knowledge()
        self.prior = priors(self.known, closed)
        worlds = base_worlds(sheet, seed)
        first = Shows(worlds[0])
        # Without ranges there is one loop, in different air.
        self.base = [first, *(_following(first, world) for world in worlds[1:])]
        sound = [shows for shows in self.base if shows.is_well()]
        self.sound = sound if len(sound) >= FEWEST_SOUND else self.base
        self.particles: list[Particle] = []
        weights: list[float] = []
        for code in self.known.causes:
            made, weight = self.of_cause(code, EACH)
            self.particles += made
            weights += [weight / len(made)] * len(made) if made else []
        self.weights = np.array(weights)
        self.weights /= self.weights.sum()

    def of_cause(self, code: str, count: int) -> tuple[list[Particle], float]:
        """Worlds of a cause, and what they weigh together."""
        prior, made = self.prior[code], []
        weight = 0.0
        if code in BY_ITSELF:
            own = [shows for shows in self.base if BY_ITSELF[code](shows)]
            follows = self.known.causes[code].follows
            for shows in own:
                known = _following(shows, replace(shows.world, changed=follows))
                made.append(Particle(cause=code, shows=known, sound=known))
            weight += prior * len(own) / len(self.base)
        if code in INJECTED:
            put_in = list(self.put_in(code, self.sound, count))
            # Beside worlds that do it by themselves, put in as often as those do.
            weight += prior * len(put_in) / count * (0.3 if code in BY_ITSELF else 1.0)
            made += put_in
        return made, weight

    def put_in(self, code: str, among: Sequence[Shows], count: int) -> Iterable[Particle]:
        """Worlds with a cause put in, as far as it can be in them."""
        place = list(self.known.causes).index(code)
        for k in range(count):
            sound = among[k % len(among)]
            random = np.random.default_rng([self.seed, place, k])
            world = changed_world(code, sound.world, random, self.known.causes[code].follows)
            if world is not None:
                yield Particle(cause=code, shows=_following(sound, world), sound=sound)


def _following(sound: Shows, world: World) -> Shows:
    """What a world shows; solved once where its loop is that of another."""
    return Shows(world, sound if world.loop is sound.world.loop else None)


def priors(known: Knowledge, closed: Mapping[str, int]) -> dict[str, float]:
    """Share of each cause before anything is known: the trade's, moved by the firm's own closed cases [1]."""
    total = sum(cause.weight for cause in known.causes.values())
    cases = sum(closed.get(code, 0) for code in known.causes)
    return {
        code: (TRADE_CASES * cause.weight / total + closed.get(code, 0)) / (TRADE_CASES + cases)
        for code, cause in known.causes.items()
    }


def edges_of(loop: Loop) -> tuple[PhaseMode | None, ...]:
    """The edges that a control may be set to; None where it does not dim."""
    mode = loop.control.phase_mode
    if not loop.control.is_dimmer:
        return (None,)
    if mode in (PhaseMode.LEADING, PhaseMode.TRAILING):
        return (mode,)
    has_iron = any(isinstance(lamp, IronCoreTransformerLamp) for lamp in loop.lamps)
    return (PhaseMode.LEADING,) if has_iron else (PhaseMode.TRAILING, PhaseMode.LEADING)


def base_worlds(sheet: Sheet, seed: int, count: int = BASE) -> list[World]:
    """The loop as recorded, over the ranges of its figures, its dimmer set as proposed, on its better edge."""
    made = [_on_edge(sheet, edge, seed, count) for edge in edges_of(sheet.loop)]
    if len(made) == 1:
        return made[0]
    return min(made, key=lambda worlds: sum(Shows(world).misfires for world in worlds))


def _on_edge(sheet: Sheet, edge: PhaseMode | None, seed: int, count: int) -> list[World]:
    loop, found = sheet.loop, variables(sheet)
    rows = draw(found, count, seed)
    lit = samples_of(loop, count, seed, sheet.figures, edge)
    dimming = None
    if edge is not None:
        curve = light_curve(loop, edge, lit)
        levels = USUAL_DEG if curve is None else (curve.least_deg, curve.start_deg, curve.most_deg)
        dimming = Dimming(edge=edge, least_deg=levels[0], start_deg=levels[1], top_deg=levels[2])
    random = np.random.default_rng(seed)
    # Without a range there is still one loop, in different air.
    return [
        World(
            loop=loop_at(loop, found, row) if found else loop,
            lit=lit[k],
            dimming=dimming,
            air=Air(margin_db=float(random.uniform(*MARGIN_DB))),
            step_ratio=float(random.uniform(*STEP_RATIO)),
            bypass=BypassIs.IN_PLACE if loop.bypass else BypassIs.NONE,
            has_metal_plate=bool(random.random() < 0.3),
        )
        for k, row in enumerate(rows)
    ]
