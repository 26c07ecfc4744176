"""The live views: the page as visitors get it, made editable."""
