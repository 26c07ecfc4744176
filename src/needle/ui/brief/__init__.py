"""The Brief stage."""
