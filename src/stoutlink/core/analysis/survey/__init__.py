"""What the tape found: placed points, joined surveys, room kept."""
