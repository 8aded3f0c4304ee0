"""Rain: depth by duration and return period, storm shapes, and the ensemble of design storms."""
