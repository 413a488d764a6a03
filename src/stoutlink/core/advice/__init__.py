"""Findings, cautions and knock-ons: rules over project and results."""
