"""How numbers are worked out: code that is compiled, and what was worked out before."""
