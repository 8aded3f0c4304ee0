"""What storms have left: figures and series of each, and what is read from them over several."""
