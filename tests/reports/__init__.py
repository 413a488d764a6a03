"""What is handed out, read back."""
