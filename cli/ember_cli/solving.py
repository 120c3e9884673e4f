"""`ember solve` and `ember netlist`: a sheet or a list of sheets from a file or standard input."""

from __future__ import annotations

import json
import sys
from collections.abc import Callable
from dataclasses import asdict
from functools import partial
from math import inf
from multiprocessing import get_context
from pathlib import Path
from typing import Any

from ember_core import CORE_VERSION, netlist, sheet
from ember_core.errors import EmberError, InputError, InputErrors
from ember_core.offstate.results import LampResult, OffState
from ember_core.offstate.solve import solve
from ember_core.sheet import Sheet

STANDARD_INPUT = "-"
# Processes that share a list, and how long it must be: a process of its own takes some hundredths of a second.
PROCESSES, SHARED_FROM = 2, 32


def read_documents(file: str) -> tuple[list[Any], bool]:
    """Documents of a file, and whether it held a list.

    Raises
    ------
    InputErrors : no JSON, or not in UTF-8. OSError : the file cannot be read.
    """
    given = sys.stdin.buffer.read() if file == STANDARD_INPUT else Path(file).read_bytes()
    try:
        data = sheet.parse_json(given.decode("utf-8"))
    except UnicodeDecodeError as error:
        raise InputErrors([InputError("not_utf8", position=error.start)]) from error
    return (data, True) if isinstance(data, list) else ([data], False)


def lamp_answer(lamp: LampResult) -> dict[str, Any]:
    """One lamp group as JSON data; figures that its stage does not have are left out."""
    return {name: value for name, value in asdict(lamp).items() if value is not None and value != inf}


def answer(result: OffState, name: str) -> dict[str, Any]:
    """An off state as JSON data: SI units, keys as in `docs/nomenclature.md`."""
    control = result.control
    given: dict[str, Any] = {
        "name": name,
        "lamp_v_rms": result.lamp_v_rms,
        "lamp_v_peak": result.lamp_v_peak,
        "line_i_rms_a": result.line_i_rms_a,
        "standby_v_dc": control.standby_v_dc,
        "standby_v_min": control.standby_v_min,
        "standby_state": control.state,
        "power_needed_w": control.p_needed_w,
        "power_available_w": control.p_available_w,
        "power_ratio": control.power_ratio,
        "lamps": [lamp_answer(lamp) for lamp in result.lamps],
        "shares": asdict(result.shares),
        "closed_form": asdict(result.closed_form),
        "numerics": asdict(result.numerics),
        "core_version": CORE_VERSION,
    }
    return {key: value for key, value in given.items() if value is not None}


def error_answer(error: EmberError) -> dict[str, Any]:
    """An error as JSON data."""
    errors = error.errors if isinstance(error, InputErrors) else (error,)
    return {"errors": [{"code": e.code, "path": e.path, "params": dict(e.params)} for e in errors]}


def run_solve(file: str) -> int:
    """Solve every sheet; status 1 when one failed, the others are still answered."""

    return each(file, solved, processes=PROCESSES)


def solved(document: Any) -> dict[str, Any]:
    """The answer to one sheet."""
    given: Sheet = sheet.read(document)
    return answer(solve(given.loop), given.name)


def run_netlist(file: str) -> int:
    """Print the netlist of one sheet."""
    return print_each(file, lambda document: netlist.write(sheet.read(document).loop))


def print_each(file: str, make: Callable[[Any], str]) -> int:
    """Print a text for every document of a file; status 1 when one failed."""
    try:
        documents, _ = read_documents(file)
        for document in documents:
            print(make(document), end="")
    except (EmberError, OSError) as error:
        return _complain(error)
    return 0


def each(file: str, make: Callable[[Any], dict[str, Any]], *, processes: int = 1) -> int:
    """Answer every document of a file; status 1 when one failed, the others are still answered.

    Parameters
    ----------
    processes : that share a long list; what they answer is in the order of the list.
    """
    try:
        documents, is_list = read_documents(file)
    except (EmberError, OSError) as error:
        return _complain(error)
    work = partial(_attempt, make)
    if processes > 1 and len(documents) >= SHARED_FROM:
        with get_context("fork").Pool(processes) as pool:
            found = pool.map(work, documents, chunksize=SHARED_FROM // 4)
    else:
        found = [work(document) for document in documents]
    answers, failed = [one for one, _ in found], any(is_error for _, is_error in found)
    json.dump(answers if is_list else answers[0], sys.stdout, indent=1, allow_nan=False)
    print()
    return 1 if failed else 0


def _attempt(make: Callable[[Any], dict[str, Any]], document: Any) -> tuple[dict[str, Any], bool]:
    """The answer to a document, or its error and True."""
    try:
        return make(document), False
    except EmberError as error:
        return error_answer(error), True


def _complain(error: EmberError | OSError) -> int:
    if isinstance(error, EmberError):
        json.dump(error_answer(error), sys.stdout, indent=1)
        print()
    else:
        print(f"ember: {error.filename or 'standard input'}: {error.strerror}", file=sys.stderr)
    return 1
