"""Runs: typed, pasted, brought in from files or earlier shootouts, changed and marked.

May import the book, and from margins what a new run changes.
"""
