"""Runoff: from rain on catchments to flow into nodes."""
