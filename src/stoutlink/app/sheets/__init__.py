"""The sheets of the route: each shows the rig or a part, and computes."""
