"""First drafts: from an idea in a sentence or two to a whole site."""
