"""The routes, by resource."""
