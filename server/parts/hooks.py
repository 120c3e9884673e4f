"""What those who use the shelf have to say to it, which does not know of them."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from accounts.models import User
    from parts.models import Part

# After other figures of a part hold: inside the transaction that changes it.
changed: list[Callable[[Part], None]] = []
# Where a part is used, as far as somebody sees: `first`, `count`, `older_count`.
used: list[Callable[[Part, User], Any]] = []
