"""The compiler, without what it would fetch as it starts and nothing here asks for.

It looks whether SciPy's linear algebra and foreign functions of C are there, and that takes a quarter of a second of
every command. What is compiled here calls neither (`offstate.algebra` has what it needs), so it is told that they
are not there; whoever else wants them finds them as ever.
"""

from __future__ import annotations

import sys

_NOT_ASKED_FOR = ("scipy.linalg.cython_blas", "cffi")

_hidden = [name for name in _NOT_ASKED_FOR if name not in sys.modules]
for _name in _hidden:
    # An entry of None is what Python takes for a module that cannot be imported.
    sys.modules[_name] = None  # type: ignore[assignment]
try:
    import numba

    # Where it looks; else these come with the first function that is called.
    import numba.core.typing.cffi_utils
    import numba.np.arraymath
finally:
    for _name in _hidden:
        del sys.modules[_name]

__all__ = ["numba"]
