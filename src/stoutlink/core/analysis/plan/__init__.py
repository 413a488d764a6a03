"""When things are done: working hours, who is free, what waits for what, how surely the day is met."""
