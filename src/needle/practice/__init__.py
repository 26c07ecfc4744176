"""Stand-ins for outside services. They speak real protocols and can be made to fail."""
