"""What is known of a rig once it stands: as built, its runs, tuning, the test hill, care."""
