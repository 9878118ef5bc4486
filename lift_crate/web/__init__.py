"""Flask application: JSON API and the built front end."""
