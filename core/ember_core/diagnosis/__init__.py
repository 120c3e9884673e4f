"""From a complaint to its cause: causes that can be simulated, evidence, the next test, remedies by their chance."""
