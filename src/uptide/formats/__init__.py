"""Other shapes of the same facts: PDF, CSV and JSON, in and out."""
