"""Request and response schemas, by subject. Documents of the core are passed through unchanged."""
