"""SI values as people read them: engineering units, three significant digits."""

from __future__ import annotations

import math

from django.utils.formats import get_format

# Suffix of a name, unit, and whether SI prefixes are put before it.
_SUFFIXES = (
    ("_v", "V", True),
    ("_v_rms", "V", True),
    ("_v_dc", "V", True),
    ("_a", "A", True),
    ("_w", "W", True),
    ("_j", "J", True),
    ("_f", "F", True),
    ("_ohm", "Ω", True),
    ("_hz", "Hz", True),
    ("_s", "s", False),
    # Times that are always short are told with a prefix, as in 0.5 ms.
    ("_short_s", "s", True),
    ("_a2s", "A²s", False),
    ("_m", "m", True),
    ("_deg", "°", False),
)
_PREFIXES = ((1e6, "M"), (1e3, "k"), (1.0, ""), (1e-3, "m"), (1e-6, "µ"), (1e-9, "n"), (1e-12, "p"))
ZERO_CELSIUS_K = 273.15
# Ratios that people say in percent.
_SHARES = ("delivered_ratio", "share_ratio", "left_ratio", "light_ratio", "derated_ratio")
# A ratio of a thousand and one of a million say the same: far more than enough.
_LARGEST_RATIO = 99.0


def local_number(digits: str) -> str:
    """Digits with the decimal sign of the language of whoever asks."""
    return digits.replace(".", get_format("DECIMAL_SEPARATOR"))


def significant(value: float, digits: int = 3) -> str:
    """A number with so many significant digits, without exponent."""
    if value == 0.0:
        return "0"
    # Rounded first, so that 0.9996 becomes 1.00 and not 1.000.
    rounded = float(f"{value:.{digits - 1}e}")
    decimals = max(0, digits - 1 - math.floor(math.log10(abs(rounded))))
    return local_number(f"{rounded:.{decimals}f}")


def engineering(value: float, unit: str) -> str:
    """A value with an SI prefix, as in `2.35 mA`."""
    size = abs(value)
    if size == 0.0:
        return f"0 {unit}"
    for factor, prefix in _PREFIXES:
        # 999.6 nF rounds to 1000 nF, which is better called 1 µF.
        if size >= 0.9995 * factor:
            return f"{significant(value / factor)} {prefix}{unit}"
    factor, prefix = _PREFIXES[-1]
    return f"{significant(value / factor)} {prefix}{unit}"


def in_words(name: str, value: object) -> str:
    """A parameter as text, its unit taken from the ending of its name."""
    if isinstance(value, bool) or not isinstance(value, int | float):
        return str(value)
    if name.endswith(_SHARES):
        return f"{value * 100:.0f} %"
    if name.endswith("_ratio"):
        if not math.isfinite(value) or value > _LARGEST_RATIO:
            return f"> {_LARGEST_RATIO:.0f}"
        return significant(float(value))
    if name.endswith(("_count", "group")) or isinstance(value, int):
        return str(value)
    if name.endswith("_v_per_s"):
        return f"{significant(value / 1e6)} V/µs"
    if name.endswith("_k"):
        return with_unit(value, "K")
    for suffix, unit, prefixed in sorted(_SUFFIXES, key=lambda entry: -len(entry[0])):
        if name.endswith(suffix):
            return engineering(value, unit) if prefixed else f"{significant(value)}{'' if unit == '°' else ' '}{unit}"
    return significant(float(value))


def with_unit(value: float, unit: str) -> str:
    """A value of a quantity whose unit is known by symbol."""
    if unit in ("1", ""):
        return significant(value) if value != int(value) else str(int(value))
    if unit == "K":
        # Kelvin inside, degrees Celsius for people.
        return f"{significant(value - ZERO_CELSIUS_K)} °C"
    if unit == "m²":
        return f"{significant(value * 1e6)} mm²"
    if unit in ("1/K", "K/W", "s"):
        return f"{significant(value)} {unit}"
    return engineering(value, unit)
