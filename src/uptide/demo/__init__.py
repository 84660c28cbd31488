"""The demo workshop's files."""
