"""Project files: reading, migrating, saving, recovering."""
