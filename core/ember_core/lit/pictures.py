"""A settled cycle of a gang while on, of typical figures, and its band over the samples."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from ember_core.lit.holding import draws_after_crest
from ember_core.lit.loads import on_case, window_case
from ember_core.lit.ranges import LitFigures, samples_of, typical_of
from ember_core.onstate.laws import Floats
from ember_core.onstate.simulate import OnState, simulate
from ember_core.parts import PhaseMode
from ember_core.sheet import Sheet

# A band of so many marches, a little coarser: what it shows is wide against what that costs.
BAND_SAMPLES = 8
BAND_TOLERANCE_RATIO = 5.0
# A gate pulse that outlasts every ring.
LONG_GATE_S = 2e-3


class View(StrEnum):
    """What is drawn of a relay: the time after it closed, or a settled cycle with its supply window."""

    CLOSING = "closing"
    RUNNING = "running"


@dataclass(frozen=True, slots=True, kw_only=True)
class CycleBand:
    """Least and most over the samples along a settled cycle: volts at the lamps, amperes of the line."""

    theta_deg: Floats
    v_low_v: Floats
    v_high_v: Floats
    i_low_a: Floats
    i_high_a: Floats


def view_of(given: Sheet, edge: PhaseMode, view: View | None) -> View:
    """What is drawn where nobody says: a relay that feeds itself in series running, another one closing."""
    if edge is not PhaseMode.ON_OFF:
        return View.RUNNING
    if given.loop.control.standby is None:
        return View.CLOSING
    return view or View.RUNNING


def picture(given: Sheet, edge: PhaseMode, view: View, level_deg: float) -> OnState:
    """A settled cycle with typical figures; of a contact that closes the time after that.

    Raises
    ------
    SolverError : it could not be computed.
    """
    figures = _held(given, typical_of(given.loop, given.figures, edge))
    return _march(given, edge, view, level_deg, figures)


def _held(given: Sheet, figures: LitFigures) -> LitFigures:
    """With a gate pulse that outlasts the ring of the filters, where anything holds the triac after it.

    Whether the real one does is a matter of chance and told as a share; a picture of one misfire would look certain.
    """
    if not draws_after_crest(given.loop, figures):
        return figures
    return figures.with_control(t_gate_s=max(figures.control["t_gate_s"], LONG_GATE_S))


def _march(
    given: Sheet, edge: PhaseMode, view: View, level_deg: float, figures: LitFigures, tolerance_ratio: float = 1.0
) -> OnState:
    if edge is PhaseMode.ON_OFF and view is View.RUNNING:
        return simulate(window_case(given.loop, figures), tolerance_ratio=tolerance_ratio)
    return simulate(on_case(given.loop, edge, level_deg, figures), tolerance_ratio=tolerance_ratio)


def band(given: Sheet, edge: PhaseMode, view: View, level_deg: float, *, seed: int = 1) -> CycleBand:
    """The same cycle over `BAND_SAMPLES` samples.

    Raises
    ------
    SolverError : one of them could not be computed.
    """
    tried = [_held(given, one) for one in samples_of(given.loop, BAND_SAMPLES, seed, given.figures, edge)]
    found = [_march(given, edge, view, level_deg, figures, BAND_TOLERANCE_RATIO) for figures in tried]
    v, i = np.array([one.v_lamp_v for one in found]), np.array([one.i_line_a for one in found])
    return CycleBand(
        theta_deg=found[0].theta_deg,
        v_low_v=v.min(axis=0),
        v_high_v=v.max(axis=0),
        i_low_a=i.min(axis=0),
        i_high_a=i.max(axis=0),
    )
