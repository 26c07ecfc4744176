"""The shop: what is in a cart, and what it comes to."""
