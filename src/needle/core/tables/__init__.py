"""Tables: reading and editing them, the pages made of their rows, and how alike those are."""
