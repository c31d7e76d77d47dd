"""Processes that play games: the compiled kernel and its cache, a pool of forked workers, a cluster, and the aggregation of results."""
