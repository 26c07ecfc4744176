"""Typefaces: which there are, which a page uses, and the files visitors get."""
