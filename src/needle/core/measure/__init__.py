"""From counts to what can be said about them."""
