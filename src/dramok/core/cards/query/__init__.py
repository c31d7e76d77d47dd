"""The query language over the cards of a game: parser, column index, evaluation, completion, ordering and grouping."""
