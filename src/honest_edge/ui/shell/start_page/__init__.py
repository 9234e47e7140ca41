"""What the window shows without a job: what was done last, where art goes, what can be made, the first questions."""
