"""Benchmarks: each prints a ratio against a named library, measured in the same run."""
