"""Choosing axles: strength, gears, fit, cost, knock-ons, picking."""
