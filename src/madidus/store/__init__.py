"""Records in PostgreSQL: projects, their immutable revisions, runs, and the figures of every storm."""
