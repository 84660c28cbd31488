"""What is kept, as a whole: backups, everything out and in."""
