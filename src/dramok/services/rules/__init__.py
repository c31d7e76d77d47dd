"""The rulebook: card types and fields, choice lists, keywords and the other rule parts, with a preview of what a change would do."""
