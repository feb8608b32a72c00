"""The sentences of Picks, made from values alone: names, prices, calls, contests.

Imports the core, and of the store its records at most; never the book.
"""
