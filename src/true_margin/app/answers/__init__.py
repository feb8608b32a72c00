"""What the API answers: models of its own, one module a room.

A column that the store gains is told to nobody until a field is written here. May import the
views of the desk that hold no record of the store.
"""
