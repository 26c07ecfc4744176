"""A few hundred line drawings, found by word."""
