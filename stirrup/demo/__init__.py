"""The demo boats: build files that ship with the program."""
