"""Build: two live views, the Script and the tray."""
