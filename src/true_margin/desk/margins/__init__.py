"""Margins: ladders, pairs, rounds, fairness, and all that is asked of differences.

May import the book.
"""
