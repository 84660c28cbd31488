"""The command line: serve, demo, assess, import, check-catalogue."""
