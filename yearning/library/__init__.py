"""What `import yearning` offers: everything the page does, from Python."""
