"""What ordinary work teaches: makers, models and the foot from trials, stretch from follow-ups."""
