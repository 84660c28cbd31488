"""The application in the browser: FastAPI routes, Jinja templates, vendored styles and scripts."""
