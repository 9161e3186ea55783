"""The plan document and the typed commands that change it."""
