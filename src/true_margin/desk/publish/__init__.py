"""Publish: script, cards, tables and texts to give away, reports, public editions.

May import the book and every stage before it, and packs.
"""
