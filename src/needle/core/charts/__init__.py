"""Small charts from typed or pasted numbers."""
