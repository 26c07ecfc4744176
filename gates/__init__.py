"""What stands between a change and main: lint, types, our own checks, and the tests."""
