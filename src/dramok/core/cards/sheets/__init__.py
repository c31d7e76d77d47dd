"""Table files to cards: header and column matching, row reading, what an import would add, change or leave out."""
