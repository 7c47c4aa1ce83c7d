"""Where the API stands: the version that its addresses name."""

V1 = "/api/v1"
"""The address of version 1; what would break a client of it stands under another."""
