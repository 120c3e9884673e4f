"""What later steps of the job have to say to the survey, which does not know of them."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from loops.models import Loop
    from survey.models import Isolation

# Why the power must not come back yet: sentences, none where nothing stands against it.
may_not_energise: list[Callable[[Isolation], list[dict[str, Any]]]] = []
# Whether a control with electronics has been put in.
has_fitted_control: list[Callable[[Loop], bool]] = []
