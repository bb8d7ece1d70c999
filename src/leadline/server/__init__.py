"""The Flask application: API, database, events. No geometry."""
