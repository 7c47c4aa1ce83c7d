"""From files to pictures."""
