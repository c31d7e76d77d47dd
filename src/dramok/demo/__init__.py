"""The demo world, as data: rival botanical glasshouses. All names, texts and numbers are invented here."""
