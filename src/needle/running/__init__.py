"""Processes of our own: the host and the practice services, started and ended as one."""
