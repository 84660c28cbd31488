"""What page and command line share: the shelf of a day, an assessment with all that is known here, files brought in."""
