"""The rules and the computation of the job. Nothing here knows the web, the database or the queue."""
