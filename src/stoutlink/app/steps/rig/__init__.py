"""The rig."""
