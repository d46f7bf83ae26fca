"""What was done and what follows: logs, progress, pain, learning, Today, reviews, tape, trials; no SQL."""
