"""The rig step: one drawing, four looks at it."""
