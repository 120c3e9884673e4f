"""The layers of the server hold for every app there is."""

from __future__ import annotations

import tomllib
from unittest import TestCase

from ember_launcher.places import ROOT, SERVER


class Layers(TestCase):
    """What pyproject.toml says of imports."""

    def test_every_app_has_its_layer(self) -> None:
        """A new one that is left out would be bound by nothing."""
        told = tomllib.loads((ROOT / "pyproject.toml").read_text())["tool"]["importlinter"]
        contract = next(one for one in told["contracts"] if one["name"].startswith("the server"))
        named = {name.strip() for layer in contract["layers"] for name in layer.replace(":", "|").split("|")}
        there = {path.parent.name for path in SERVER.glob("*/__init__.py")}
        self.assertEqual(named, there)
        self.assertLessEqual(named, set(told["root_packages"]))
