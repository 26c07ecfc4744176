"""The Quillmoor demo: an invented observatory, its pictures, its site and its results."""
