"""From a site to what visitors get."""
