"""From a sheet to a judgement as data."""
