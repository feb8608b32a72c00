"""Picks: viewers, what a setup costs each of them, and which one to buy.

May import the book, and from margins who stands on no ladder.
"""
