"""The API: thin routers over the services."""
