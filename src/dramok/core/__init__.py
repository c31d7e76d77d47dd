"""Computation only: no web, database, file, clock or global state.

Imports nothing of dramok outside this folder; every room below has tests of its own.
"""
