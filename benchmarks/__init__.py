"""Benchmarks: ratios against a peer in the same run, since machines are noisy."""
