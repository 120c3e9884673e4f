"""How much an outcome or a reading tells of what is open, over worlds that weigh the same."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from scipy.special import ndtr

from ember_core.spread.variables import Floats


def information_bits(open_: Sequence[object], table: Floats) -> float:
    """Mutual information of what is open and what is found [bit].

    Parameters
    ----------
    open_ : what holds in each world. table : a row a world, a column an outcome: its chance there [1].
    """
    kinds = {one: k for k, one in enumerate(dict.fromkeys(open_))}
    joint = np.zeros((len(kinds), table.shape[1]))
    np.add.at(joint, [kinds[one] for one in open_], table / len(open_))
    of_open, of_outcome = joint.sum(axis=1), joint.sum(axis=0)
    with np.errstate(divide="ignore", invalid="ignore"):
        terms = joint * np.log2(joint / (of_open[:, None] * of_outcome[None, :]))
    return float(max(0.0, np.nansum(terms)))


def binned(centre: Floats, width: Floats, bins: int) -> Floats:
    """Chance of each of some bins of a value, from kernels; the last column is of worlds that show nothing.

    Parameters
    ----------
    centre, width : of each world's kernel, in any unit; a centre that is not finite shows nothing.
    """
    there = np.isfinite(centre)
    known = np.where(there, centre, 0.0)
    inner = np.unique(np.quantile(centre[there], np.linspace(0.0, 1.0, bins + 1)[1:-1]))
    below = np.where(there[:, None], ndtr((inner - known[:, None]) / width[:, None]), 0.0)
    edges = np.hstack([np.zeros((centre.size, 1)), below, there.astype(float)[:, None]])
    table: Floats = np.hstack([np.diff(edges, axis=1), (~there).astype(float)[:, None]])
    return table
