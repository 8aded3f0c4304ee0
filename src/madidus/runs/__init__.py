"""Runs: who computes what and when, progress, cancel, resume, live answers."""
