"""The run sheet: one line a stage on how far a shootout is, and what comes next.

May import every other package of the desk but jobs.
"""
