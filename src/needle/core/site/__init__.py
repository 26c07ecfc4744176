"""The site as a value: types, ids, widths and the style table."""
