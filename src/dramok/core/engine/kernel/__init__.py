"""The rules engine itself: integers, loops and functions only, interpreted at the table and compiled for
simulations.

Functions are defined before their callers, module by module: rng, zones, amounts, triggers, moves,
stat_changes, verbs, ability_flow, setup, clash, decisions, turn, loop.
"""
