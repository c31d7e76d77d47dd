"""The demo games as data. All names, texts and numbers are our own."""
