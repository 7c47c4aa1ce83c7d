"""The web application: REST for things, a WebSocket for play, Server-Sent Events for progress."""
