"""The same capabilities from a shell."""
