"""Visits, leads and deliveries in SQL."""
