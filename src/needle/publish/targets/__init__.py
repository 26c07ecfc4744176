"""Places that a release is sent to: one protocol, one module a kind of place."""
