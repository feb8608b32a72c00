"""Tasks: what is timed, the timelines behind it, and what comes out of an export.

May import the book.
"""
