"""Card types, their fields and choice lists, and the formulas of derived fields.

A card is a map from field id to value; `schema` validates it and finds the fields of its type.
"""
