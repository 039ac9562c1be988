"""What is fast and how fast."""
