"""Breaking in and seeing the athlete again."""
