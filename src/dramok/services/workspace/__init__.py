"""The open database with the current snapshot of each game, and the one way to commit an edit."""
