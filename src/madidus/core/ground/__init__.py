"""The ground: terrain, what lies in it and where water finds its way over it; plans laid out without it."""
