"""Leads: checking what was sent, telling robots apart, exporting."""
