"""Published facts: a CSV file per kind of fact, and typed loaders that refuse bad rows."""
