"""The Measure stage."""
