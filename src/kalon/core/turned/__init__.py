"""What is shown to the person on the chair, in their words: their feet, why this shoe, what they said."""
