"""The rules and computation of the job, free of interface code."""
