"""Errors: a call or a solver failed. They never say that a design is bad; findings do that."""

from __future__ import annotations

from collections.abc import Mapping

Param = str | int | float


class EmberError(Exception):
    """An error as data: a stable code, the place it concerns, and the figures of its message.

    Parameters
    ----------
    code : stable identifier, `snake_case`; the words are looked up by it.
    path : place in the loop sheet, as in `lamps[0].v_start_v`; empty when it concerns the whole.
    params : values that the words mention, in SI units.
    """

    def __init__(self, code: str, *, path: str = "", **params: Param) -> None:
        self.code = code
        self.path = path
        self.params: Mapping[str, Param] = params
        super().__init__(f"{path or 'sheet'}: {code} {dict(params) if params else ''}".strip())


class InputError(EmberError):
    """What was given cannot be a loop: wrong type, out of bounds, contradiction, unknown key."""

    def moved(self, path: str) -> InputError:
        """The same error under another place."""
        made = InputError(self.code, path=path)
        made.params = self.params
        return made


class ModelLimitError(EmberError):
    """The loop is a possible one, but the models here do not cover it."""


class SolverError(EmberError):
    """The numerical solution failed; `params` carries the residual."""


class InputErrors(EmberError):
    """Several input errors found in one reading of a sheet; `errors` lists them in order."""

    def __init__(self, errors: list[InputError]) -> None:
        self.errors = tuple(errors)
        super().__init__("invalid_sheet", count=len(errors))
