"""Sending a site to where visitors find it."""
