"""Looks: the document, its steps, how they are mixed and when."""
