"""The rules at work, once: whole numbers, loops and functions, read as they stand at the table and compiled for simulation.

Functions stand above those that call them, module by module: chance, zones, amounts, triggers, moves, changes, verbs, flow, setting,
clash, asking, turn, loop.
"""
