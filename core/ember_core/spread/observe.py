"""One sample, quickly: the settled loop with waiting lamps, and the full solution where that cannot tell."""

from __future__ import annotations

from collections.abc import Sequence

from ember_core.errors import SolverError
from ember_core.loop import Loop
from ember_core.offstate import closed_form
from ember_core.offstate.network import Floats, build
from ember_core.offstate.runner import settled_half_cycle
from ember_core.offstate.settle import settle, settle_from
from ember_core.offstate.solve import STEPS_PER_CYCLE as SOLUTION_STEPS
from ember_core.offstate.solve import record_finely, solve_at
from ember_core.spread.begun import Begun, begin, begin_each, has_ptc
from ember_core.spread.look import (
    AS_IT_LOOKS,
    COARSE,
    FINE,
    AtEdgeError,
    Errors,
    Sample,
    by_solution,
    look,
    surely_fed_ratio,
)
from ember_core.spread.shown import STEPS_PER_CYCLE, Shown, seen_blinking, shown_at, shown_blinking

_PTC_ROUNDS = 3


def observe(loop: Loop, *, with_shown: bool = True, near: Floats | None = None, is_exact: bool = True) -> Sample:
    """States and figures of one loop.

    Parameters
    ----------
    with_shown : of a loop that blinks, also what instruments show; it takes several times as long.
    near : settled state of a loop with the same parts, fed, to begin from; it saves a third of the time.
    is_exact : near an edge the solution is asked; where an edge is looked for, that would be nearly always.

    Raises
    ------
    SolverError : the loop does not settle.
    """
    errors = COARSE if is_exact else AS_IT_LOOKS
    if not has_ptc(loop):
        return _once(loop, 0.0, with_shown, begin(loop, build(loop), near), errors)[0]
    # The warm resistance hangs on the voltage, so a PTC always asks what is shown.
    ptc_v_rms = 0.0
    sample, near = _once(loop, ptc_v_rms, True, begin(loop, build(loop, ptc_v_rms=ptc_v_rms), near), errors)
    for _ in range(_PTC_ROUNDS):
        ptc_v_rms += 0.7 * ((0.0 if sample.shown is None else sample.shown.lamp_v_rms) - ptc_v_rms)
        begun = begin(loop, build(loop, ptc_v_rms=ptc_v_rms), near)
        sample, near = _once(loop, ptc_v_rms, True, begun, errors)
    return sample


def observe_each(
    loops: Sequence[Loop], *, with_shown: bool = True, near: Floats | None = None, is_exact: bool = True
) -> list[Sample | None]:
    """`observe` of loops with the same parts, None for one that does not settle; so that threads do not wait for the
    interpreter, most of it is done for all of them in one go."""
    errors = COARSE if is_exact else AS_IT_LOOKS

    def attempt(loop: Loop, begun: Begun | None) -> Sample | None:
        try:
            if begun is None:
                return observe(loop, with_shown=with_shown, near=near, is_exact=is_exact)
            return _once(loop, 0.0, with_shown, begun, errors)[0]
        except SolverError:
            return None

    return [
        attempt(loop, begun)
        for loop, begun in zip(loops, begin_each(loops, near, surely_fed_ratio(errors)), strict=True)
    ]


def shown_by(loop: Loop) -> Shown:
    """Only what instruments show; of a loop that does not blink a third of the work of `observe`.

    Raises
    ------
    SolverError : the loop does not settle.
    """
    if has_ptc(loop):
        found = observe(loop).shown
        assert found is not None  # noqa: S101  (asked for)
        return found
    network = build(loop)
    settled = settle(network, closed_form.evaluate(network), STEPS_PER_CYCLE)
    waiting = settled_half_cycle(network, settled.state, STEPS_PER_CYCLE)
    seen = seen_blinking(network, waiting)
    return shown_at(loop, waiting) if seen is None else shown_blinking(loop, network, seen)


def _once(loop: Loop, ptc_v_rms: float, with_shown: bool, begun: Begun, errors: Errors) -> tuple[Sample, Floats]:
    """The sample of a loop that has settled, and its state. Raises `SolverError`."""
    network, state = begun.network, begun.settled.state
    try:
        return look(loop, begun, with_shown, errors), state
    except AtEdgeError:
        pass
    try:
        # With the steps of a solution what waits is told as the solution tells it.
        finely = settle_from(network, state, SOLUTION_STEPS)
        recording = record_finely(network, finely, SOLUTION_STEPS)
        return look(loop, Begun(network=network, settled=finely, reading=recording), with_shown, FINE), state
    except (AtEdgeError, SolverError):
        return by_solution(solve_at(loop, ptc_v_rms)), state
