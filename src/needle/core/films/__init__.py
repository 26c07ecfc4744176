"""Videos: checking a file and taking a still from it."""
