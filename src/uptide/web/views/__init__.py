"""What several rooms show, in words, decided before a template sees it."""
