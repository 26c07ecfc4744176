"""Working from a picture: a board beside the page, to measure, compare and read."""
