"""The program's face for other programs: JSON in and out, described in OpenAPI."""
