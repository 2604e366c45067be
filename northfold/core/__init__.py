"""The rules of the job: pure Python, no web framework, no clock, no database."""
