"""The rig itself: in force, standing, loaded, and how sure."""
