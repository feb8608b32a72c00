"""Shootouts on the shelf: made, changed, listed, archived.

May import the book.
"""
