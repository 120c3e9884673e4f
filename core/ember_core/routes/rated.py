"""What is asked of a comparison, and what it says of each way."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum

from ember_core.bypass.choose import Candidate as BypassCandidate
from ember_core.bypass.place import Place
from ember_core.overall import Overall, Works
from ember_core.parts import PhaseMode
from ember_core.parts.hardware import Hardware
from ember_core.routes.surveyed import Surveyed
from ember_core.routes.tasks import Known
from ember_core.routes.ways import Route, Way
from ember_core.sheet import Sheet
from ember_core.survey.box import Box
from ember_core.survey.depth import DepthCheck, Fit
from ember_core.times.minutes import Minutes, Task


class Value(StrEnum):
    """What a firm weighs, in an order of its own."""

    SAFETY = "safety"
    CERTAINTY = "certainty"
    FUNCTION = "function"
    COST = "cost"


ORDER = tuple(Value)
# From best to worst; what probably works is as good as what works.
WORKS_RANK = {Works.WORKS: 0, Works.PROBABLY: 0, Works.NOT_SURE: 1, Works.UNKNOWN: 2, Works.DOES_NOT: 3}


@dataclass(frozen=True, slots=True, kw_only=True)
class Offered:
    """A control of the shelf.

    Parameters
    ----------
    key : its identity. sheets : for each gang the loop with it in place and no bypass; none where a gang lacks lamps.
    is_assumed : nobody says what terminals it has. is_there : it is fitted already, and need not be bought.
    """

    key: str
    hardware: Hardware
    sheets: Mapping[int, Sheet]
    is_assumed: bool = False
    is_there: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Asked:
    """A loop and what may be done with it.

    Parameters
    ----------
    as_found : for each gang the loop with its ordinary switch. planned : for each gang the control of the bench.
    kept : gangs whose ordinary switch stays. bypasses : those of the shelf.
    fitted_bypass : for each gang the bypass on the bench. bypass_there : gangs where it hangs already.
    places : where a bypass goes.
    box : for the depth; None while it was not surveyed. known : what of the job is settled.
    minutes : the firm's own of each task; class figures where it has none.
    order : what is weighed first.
    """

    found: Surveyed
    offered: Sequence[Offered]
    planned: Mapping[int, str]
    as_found: Mapping[int, Sheet]
    kept: Sequence[int] = ()
    bypasses: Sequence[BypassCandidate] = ()
    fitted_bypass: Mapping[int, BypassCandidate] = ()  # type: ignore[assignment]  # an empty one
    bypass_there: Sequence[int] = ()
    places: Mapping[int, Place] = ()  # type: ignore[assignment]  # an empty one
    box: Box | None = None
    spacers_m: tuple[float, ...] = ()
    known: Known = field(default_factory=Known)
    minutes: Mapping[Task, Minutes] = field(default_factory=dict)
    order: tuple[Value, ...] = ORDER


@dataclass(frozen=True, slots=True, kw_only=True)
class Rated:
    """One way with everything that is weighed.

    Parameters
    ----------
    against : code of what stands against it; the rest is then empty.
    control : key of the part; None for a way without one. others : keys of further parts that serve it.
    bypass : for each gang the key of the bypass that it is judged with.
    works : of the gang that fares worst, as `overall` says it; None where lamps are not known.
    depth : None where box or part has no size. dims : phase mode of a dimmer, None for one that switches only.
    losses : codes of what is lost against what is planned.
    minutes : as likely more as less, and nine of ten within [min].
    price : of what must be bought; None where one price is not known.
    """

    way: Way
    against: str | None
    route: Route | None = None
    control: str | None = None
    others: tuple[str, ...] = ()
    bypass: Mapping[int, str] | None = None
    works: Works = Works.UNKNOWN
    overall: Overall | None = None
    gang: int = 1
    depth: DepthCheck | None = None
    dims: PhaseMode | None = None
    without_hub: str = ""
    after_power: str = ""
    losses: tuple[str, ...] = ()
    minutes: tuple[float, float] = (0.0, 0.0)
    price: float | None = None
    is_reversible: bool = True
    scores: Mapping[Value, float] | None = None

    @property
    def is_usable(self) -> bool:
        """It can be, works as far as anybody knows, and goes in."""
        fits = self.depth is None or self.depth.fit is not Fit.DOES_NOT_FIT
        return self.against is None and self.works in (Works.WORKS, Works.PROBABLY, Works.NOT_SURE) and fits


@dataclass(frozen=True, slots=True, kw_only=True)
class Comparison:
    """The ways in order.

    Parameters
    ----------
    favoured : the first that is usable; None where none is. because : the value that puts it before the next, and that
        next. elsewhere : with another value first, what would be favoured, where that differs.
    """

    rows: tuple[Rated, ...]
    favoured: Way | None
    because: tuple[Value, Way] | None
    elsewhere: Mapping[Value, Way]
    is_complete: bool


# Told how many ways are rated, of how many, and the order so far; False stops.
Progress = Callable[[int, int, Comparison], bool]
