"""The Publish stage."""
