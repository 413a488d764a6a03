"""An axle through its travel."""
