"""What the logs of a house say together: of the model, of doses, of what was foretold."""
