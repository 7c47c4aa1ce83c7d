"""Input that means no good: files, requests and kills."""
