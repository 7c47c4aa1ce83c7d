"""Glass before the lens, as treatments."""
