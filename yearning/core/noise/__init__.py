"""Counter-based random fields."""
