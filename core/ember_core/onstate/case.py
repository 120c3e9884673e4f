"""A case of the on state: source, control, loads and what is asked, as read from JSON.

The loads are those of the off state with what matters while on: input filters, hot filaments, transformers.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import StrEnum
from math import sqrt
from typing import Any, ClassVar

from ember_core.errors import InputError, InputErrors
from ember_core.quantities import defaulted, optional, required
from ember_core.sheet import Reader

Json = dict[str, Any]
_COUNT = "number of equal ones"
MOST_LOADS = 12


class Question(StrEnum):
    """What is asked of a case."""

    LEADING = "leading"
    TRAILING = "trailing"
    SUPPLY_GAP = "supply gap"
    SUPPLY_WINDOW = "supply window"
    RELAY_INRUSH = "relay inrush"


class Mode(StrEnum):
    """What a control does to the half-cycle."""

    LEADING = "leading"
    TRAILING = "trailing"
    WINDOW = "window"
    RELAY = "relay"


@dataclass(frozen=True, slots=True, kw_only=True)
class Source:
    """The mains with its impedance."""

    v_rms: float = required("V", 80.0, 280.0, "supply voltage, rms")
    f_hz: float = required("Hz", 40.0, 70.0, "supply frequency")
    r_source_ohm: float = defaulted("Ω", 0.01, 20.0, "resistance of the supply and cable", default=0.4)
    l_source_h: float = defaulted("H", 0.0, 1e-2, "inductance of the supply and cable", default=4e-4)

    @property
    def v_peak(self) -> float:
        """Peak of the supply voltage [V]."""
        return sqrt(2.0) * self.v_rms


@dataclass(frozen=True, slots=True, kw_only=True)
class OnControl:
    """The control while on; `closed_from_deg` and `closed_to_deg` make its window."""

    r_on_ohm: float = defaulted("Ω", 1e-3, 100.0, "resistance while closed", default=1.0)
    l_choke_h: float = defaulted("H", 0.0, 0.1, "choke in series", default=0.0)
    r_filter_ohm: float = defaulted("Ω", 1e-3, 1e4, "resistance in series with the filter capacitor", default=10.0)
    c_filter_f: float = defaulted("F", 0.0, 2e-6, "filter capacitor across the control", default=0.0)
    r_off_ohm: float = defaulted("Ω", 1e3, 1e12, "resistance while open", default=1e9)
    i_hold_a: float = defaulted("A", 0.0, 1.0, "holding current of the triac", default=0.02)
    t_gate_s: float = defaulted("s", 1e-6, 0.01, "length of the gate pulse", default=1e-4)
    t_let_go_s: float = defaulted("s", 0.0, 1e-3, "time below the holding current after which it lets go", default=1e-5)
    firing_deg: float | None = optional("°", 0.0, 179.0, "angle at which it fires")
    turn_off_deg: float | None = optional("°", 1.0, 180.0, "angle at which it opens")
    closed_from_deg: float | None = optional("°", 0.0, 180.0, "angle at which the window closes the control")
    closed_to_deg: float | None = optional("°", 0.0, 180.0, "angle at which it opens again")
    closing_deg: float | None = optional("°", 0.0, 360.0, "angle at which a relay contact closes, once")
    v_supply_v: float | None = optional("V", 1.0, 60.0, "voltage of its own supply while on")
    c_supply_f: float | None = optional("F", 1e-7, 1e-1, "reservoir of that supply")
    i_supply_need_a: float | None = optional("A", 1e-6, 0.5, "current that it needs")
    r_supply_ohm: float = defaulted("Ω", 0.1, 1e4, "resistance in front of that supply", default=10.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class CapacitorInputLoad:
    """Rectifier with reservoir, constant power."""

    kind: ClassVar[str] = "rectifier"

    count: int = required("1", 1, 200, _COUNT, integer=True)
    r_in_ohm: float = defaulted("Ω", 0.1, 1e4, "resistance in front of the rectifier", default=22.0)
    c_x_f: float = defaulted("F", 0.0, 2e-6, "capacitor across the input", default=0.0)
    r_x_ohm: float = defaulted("Ω", 0.01, 1e4, "resistance in series with it", default=10.0)
    c_bulk_f: float = required("F", 1e-8, 1e-2, "reservoir behind the rectifier")
    p_run_w: float = required("W", 0.0, 500.0, "power while running")
    v_undervoltage_v: float = defaulted("V", 1.0, 400.0, "reservoir voltage below which it draws nothing", default=30.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class DriverLoad:
    """Dimmable driver: damped input capacitor, bridge, film capacitor, a stage that draws like a resistor."""

    kind: ClassVar[str] = "dimmable_driver"

    count: int = required("1", 1, 200, _COUNT, integer=True)
    c_x_f: float = defaulted("F", 0.0, 2e-6, "capacitor across the input", default=0.0)
    r_damp_ohm: float = defaulted("Ω", 0.01, 1e4, "resistance in series with it", default=150.0)
    r_in_ohm: float = defaulted("Ω", 0.1, 1e4, "resistance in front of the rectifier", default=10.0)
    c_film_f: float = required("F", 1e-10, 1e-5, "film capacitor behind the rectifier")
    g_s: float = required("S", 0.0, 0.1, "conductance of the stage")
    i_stage_a: float = defaulted("A", 0.0, 5.0, "constant current of the stage", default=0.0)
    v_min_v: float = defaulted("V", 1.0, 200.0, "voltage below which the stage stops", default=40.0)
    i_bleed_a: float = defaulted("A", 0.0, 0.5, "current it draws at least", default=0.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class ElectronicTransformerLoad(DriverLoad):
    """Electronic transformer: a film capacitor behind the bridge and a stage that draws like a resistor once started.

    `v_min_v` is where its oscillator stops; that it starts only higher up, anew in each half-cycle, is not marched.
    """

    kind: ClassVar[str] = "electronic_transformer"


@dataclass(frozen=True, slots=True, kw_only=True)
class DropperLoad:
    """Series capacitor, rectifier, smoothing and LED string."""

    kind: ClassVar[str] = "capacitive_dropper"

    count: int = required("1", 1, 200, _COUNT, integer=True)
    r_in_ohm: float = defaulted("Ω", 0.1, 1e4, "resistance in front of the rectifier", default=100.0)
    c_series_f: float = required("F", 1e-9, 1e-5, "series (dropper) capacitor")
    c_smooth_f: float = required("F", 1e-9, 1e-2, "smoothing capacitor across the LED string")
    v_string_v: float = required("V", 2.0, 380.0, "voltage at which the LED string begins to conduct")
    r_string_ohm: float = required("Ω", 0.5, 1e5, "slope of the LED string")
    r_string_parallel_ohm: float = defaulted("Ω", 1e3, 1e9, "resistor across the LED string", default=1e9)


@dataclass(frozen=True, slots=True, kw_only=True)
class LinearLoad:
    """LED string fed straight from the rectified mains, its current limited."""

    kind: ClassVar[str] = "linear"

    count: int = required("1", 1, 200, _COUNT, integer=True)
    r_in_ohm: float = defaulted("Ω", 0.1, 1e5, "resistance in series with the string", default=10.0)
    v_string_v: float = required("V", 2.0, 380.0, "voltage at which the LED string begins to conduct")
    r_string_ohm: float = defaulted("Ω", 0.5, 1e5, "slope of the LED string", default=100.0)
    i_limit_a: float = required("A", 1e-4, 5.0, "current limit of the regulator")


@dataclass(frozen=True, slots=True, kw_only=True)
class FilamentLoad:
    """Hot filament."""

    kind: ClassVar[str] = "filament"

    count: int = required("1", 1, 200, _COUNT, integer=True)
    r_hot_ohm: float = required("Ω", 1.0, 1e6, "resistance while hot")


@dataclass(frozen=True, slots=True, kw_only=True)
class TransformerLoad:
    """Iron-core transformer with what hangs on it, seen from its winding."""

    kind: ClassVar[str] = "magnetic_transformer"

    count: int = required("1", 1, 200, _COUNT, integer=True)
    r_winding_ohm: float = required("Ω", 0.1, 1e4, "resistance of the winding")
    l_leakage_h: float = required("H", 1e-5, 10.0, "leakage inductance")
    l_magnetising_h: float = required("H", 1e-2, 1e3, "magnetising inductance")
    r_load_ohm: float = required("Ω", 1.0, 1e9, "load, seen from the winding")


@dataclass(frozen=True, slots=True, kw_only=True)
class OnCapacitor:
    """A bypass capacitor."""

    kind: ClassVar[str] = "capacitor"

    count: int = required("1", 1, 20, _COUNT, integer=True)
    c_f: float = required("F", 1e-12, 2e-5, "capacitance")
    r_series_ohm: float = defaulted("Ω", 1e-3, 1e4, "resistance in series", default=0.1)


@dataclass(frozen=True, slots=True, kw_only=True)
class OnResistor:
    """A resistive bleeder."""

    kind: ClassVar[str] = "resistor"

    count: int = required("1", 1, 20, _COUNT, integer=True)
    r_ohm: float = required("Ω", 100.0, 1e8, "resistance")


@dataclass(frozen=True, slots=True, kw_only=True)
class OnBleeder:
    """An electronic bleeder: a current limit at low voltage, open above its cut-off."""

    kind: ClassVar[str] = "active"

    count: int = required("1", 1, 20, _COUNT, integer=True)
    i_limit_a: float = required("A", 1e-4, 0.5, "largest current")
    r_on_ohm: float = required("Ω", 1.0, 1e5, "slope resistance at small voltage")
    v_cutoff_v: float = required("V", 2.0, 400.0, "voltage above which it opens")


Load = (
    CapacitorInputLoad
    | DriverLoad
    | ElectronicTransformerLoad
    | DropperLoad
    | LinearLoad
    | FilamentLoad
    | TransformerLoad
)
OnBypass = OnCapacitor | OnResistor | OnBleeder
LOAD_CLASSES = (
    CapacitorInputLoad,
    DriverLoad,
    DropperLoad,
    LinearLoad,
    FilamentLoad,
    TransformerLoad,
    ElectronicTransformerLoad,
)
ON_BYPASS_CLASSES = (OnCapacitor, OnResistor, OnBleeder)
# What a question needs of the control.
_NEEDS: dict[Question, tuple[str, ...]] = {
    Question.LEADING: ("firing_deg",),
    Question.TRAILING: ("turn_off_deg",),
    Question.SUPPLY_GAP: ("v_supply_v", "c_supply_f", "i_supply_need_a"),
    Question.SUPPLY_WINDOW: ("closed_from_deg", "closed_to_deg", "v_supply_v"),
    Question.RELAY_INRUSH: ("closing_deg",),
}
MODE_OF: dict[Question, Mode] = {
    Question.LEADING: Mode.LEADING,
    Question.TRAILING: Mode.TRAILING,
    Question.SUPPLY_GAP: Mode.LEADING,
    Question.SUPPLY_WINDOW: Mode.WINDOW,
    Question.RELAY_INRUSH: Mode.RELAY,
}


@dataclass(frozen=True, slots=True, kw_only=True)
class OnCase:
    """Source, control, loads and bypasses, and the question."""

    question: Question
    source: Source
    control: OnControl
    loads: tuple[Load, ...]
    bypass: tuple[OnBypass, ...] = ()
    name: str = field(default="")


def read(document: object) -> OnCase:
    """A case from parsed JSON: `question` beside `supply`, `control`, `lamps` and `bypass`, or around them as `case`.

    Raises
    ------
    InputErrors : everything that is wrong, each with code and path.
    """
    reader = Reader()
    given = reader.mapping(document, "")
    if given is None:
        raise InputErrors(reader.errors)
    inner = given.get("case", given)
    case = reader.mapping(inner, "case")
    if case is None:
        raise InputErrors(reader.errors)
    question = given.get("question", case.get("question"))
    if question not in tuple(Question):
        reader.fail("unknown_word", "question", value=str(question)[:40], known=", ".join(Question))
        raise InputErrors(reader.errors)
    asked = Question(question)
    reader.unknown_keys(case, {"name", "question", "supply", "control", "lamps", "bypass"}, "")
    for key in ("supply", "control", "lamps"):
        if key not in case:
            reader.fail("missing", key, key=key)
    if reader.errors:
        raise InputErrors(reader.errors)
    source = reader.part(case["supply"], Source, "supply")
    control = _control(reader, case["control"], asked)
    loads = reader.kinds(case["lamps"], LOAD_CLASSES, "lamps", MOST_LOADS)
    counted = [{"count": 1, **part} if isinstance(part, dict) else part for part in case.get("bypass", [])]
    bypass = reader.kinds(counted, ON_BYPASS_CLASSES, "bypass", MOST_LOADS)
    if reader.errors:
        raise InputErrors(reader.errors)
    if not loads:
        raise InputErrors([InputError("no_lamps", path="lamps")])
    name = case.get("name", "")
    return OnCase(question=asked, source=source, control=control, loads=loads, bypass=bypass, name=str(name)[:200])


def _control(reader: Reader, value: object, question: Question) -> Any:
    given = reader.mapping(value, "control")
    if given is None:
        return None
    flat = dict(given)
    mode = flat.pop("mode", MODE_OF[question].value)
    if mode != MODE_OF[question].value:
        reader.fail("unknown_word", "control.mode", value=str(mode)[:40], known=MODE_OF[question].value)
        return None
    window = flat.pop("closed_window_deg", None)
    if window is not None:
        if not isinstance(window, list) or len(window) != 2:
            reader.fail("not_a_list", "control.closed_window_deg")
            return None
        flat["closed_from_deg"], flat["closed_to_deg"] = window
    for key in _NEEDS[question]:
        if flat.get(key) is None:
            reader.fail("missing", f"control.{key}", key=key)
    return reader.part(flat, OnControl, "control")
