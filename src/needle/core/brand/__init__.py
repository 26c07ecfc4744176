"""What is made from the brand: its sign, the icon in a browser's tab, share pictures."""
