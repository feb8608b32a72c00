"""The sentences of Margins, made from values alone: names, numbers, calls.

Imports the core, and of the store its records at most; never the book. What a sentence needs
is worked out by the modules one floor up.
"""
