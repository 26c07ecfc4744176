"""Tables of the site and the pages made of their rows, in Build."""
