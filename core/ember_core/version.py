"""Version of the computation; stored with every judgement."""

CORE_VERSION = "0.6.15"
