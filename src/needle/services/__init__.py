"""Clients of the services that leads are sent to."""
