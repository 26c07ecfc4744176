"""Needle: design, build, connect, publish and measure landing pages."""

__version__ = "0.1.0"
