"""Working on the words of pages: from elsewhere, out and in again, found and replaced."""
