"""The desk: all sites of this user at once."""
