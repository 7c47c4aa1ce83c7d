"""Still pictures, and sets of them."""
