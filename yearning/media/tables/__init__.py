"""Look-up tables and grades as files."""
