"""The book: one shootout as it stood at one revision, and what follows from its rows.

Here belong the record of all rows, the shelf that keeps books in memory, and what every stage
asks of a book: counts, conditions, prices, needs, readings. May import the store and the core;
no other package of the desk.
"""
