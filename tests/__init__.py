"""Tests mirror src/needle."""
