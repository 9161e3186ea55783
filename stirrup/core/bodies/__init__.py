"""What kinds of bought and loose things share: their choices, footprint, pictures, and answers."""
