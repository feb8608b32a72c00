"""Bench: lanes on all devices, what to run next, logs of devices, simulated rigs.

May import the book, access, margins and runs.
"""
