"""Benchmarks: each prints a figure and a ratio measured in the same run. `make bench` runs them all."""
