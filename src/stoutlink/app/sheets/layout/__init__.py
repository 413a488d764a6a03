"""The layout step: three views, and the looks that stand in their free corner."""
