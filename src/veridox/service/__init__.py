"""The long-running service: records, jobs, REST, sign-in."""
