"""The plan step: tasks, when they are done, what sets the date."""
