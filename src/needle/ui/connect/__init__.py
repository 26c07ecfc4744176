"""The Connect stage."""
