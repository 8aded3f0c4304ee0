"""Drawings on paper: plans, long sections and graphs as SVG whose unit is a millimetre."""
