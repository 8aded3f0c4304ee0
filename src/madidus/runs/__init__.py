"""The run manager: batches to an executor, progress, cancel, resume, live answers."""
