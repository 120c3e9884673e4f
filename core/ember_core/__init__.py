"""The rules and computation of the job. No web, no database, no clock, no network."""

from ember_core.version import CORE_VERSION

__all__ = ["CORE_VERSION"]
