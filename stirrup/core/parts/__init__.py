"""What a boat is built from: materials, stock, and the parts that fittings make."""
