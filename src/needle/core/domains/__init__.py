"""A site's own domain: what was read of it, and what is to be done about it."""
