"""The shelf: oils found, looked at and compared; lots and oils of one's own."""
