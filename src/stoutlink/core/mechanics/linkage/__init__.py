"""A solid axle on any number of bars: position, motion and what follows from it."""
