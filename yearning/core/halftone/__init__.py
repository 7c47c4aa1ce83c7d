"""Screens, spot functions, and printing with them."""
