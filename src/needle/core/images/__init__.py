"""Pictures: reading them safely and making the sizes that visitors get."""
