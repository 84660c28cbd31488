"""What a blend is, what follows from it, and how two versions differ."""
