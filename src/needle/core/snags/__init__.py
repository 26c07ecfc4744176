"""Snags: small faults to put right before handing over."""
