"""What is exported: a report as PDF, schedules and results as a workbook."""
