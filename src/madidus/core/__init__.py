"""The computation: no interface, no database, no files, no clock."""
