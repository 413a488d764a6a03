"""Choosing a donor axle: strength, gears, fit, cost, rank."""
