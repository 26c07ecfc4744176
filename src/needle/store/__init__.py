"""Projects, media and results on disk."""
