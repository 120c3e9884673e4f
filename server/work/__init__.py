"""From a survey to a wiring that may be fitted: ways through a loop, wire maps, drawings that are checked."""
