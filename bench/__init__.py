"""Benchmarks: ratios within one run, never absolute speed. `./comet bench [NAME]`."""
