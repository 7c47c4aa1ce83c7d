"""Sound: copied, transcoded, listened to."""
