"""What requests and responses hold."""
