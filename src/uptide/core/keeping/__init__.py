"""How long things keep: blends and lots, with where they stood, and what would help them most."""
