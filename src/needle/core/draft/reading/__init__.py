"""An idea read: tidied, corrected, parsed, and taken apart into slots."""
