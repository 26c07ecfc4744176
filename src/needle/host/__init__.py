"""What visitors reach: published pages, visits, leads and their deliveries."""
