"""What the server takes and gives, by the rooms of the page. Thin: documents of the core go out as they are."""
