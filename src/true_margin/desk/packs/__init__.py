"""Packs: a shootout as open files, given out, brought in, held against each other.

May import the book, shootouts, tasks and runs.
"""
