"""The parts shelf: lamps, controls and bypasses with the source of every figure."""
