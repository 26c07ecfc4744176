"""Colours: contrast, a perceptual space, palettes, and how people see them."""
