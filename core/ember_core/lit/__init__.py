"""A gang while its light is on, in closed forms: what holds, loads, feeds and dims it, over what nobody states."""
