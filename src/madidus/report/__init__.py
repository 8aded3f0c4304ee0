"""What is handed over: a report as PDF, schedules and results as a workbook."""
