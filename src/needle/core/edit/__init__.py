"""Pure edits: from one site to the next."""
