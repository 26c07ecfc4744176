"""The window. Shows values and asks for edits; decides nothing."""
