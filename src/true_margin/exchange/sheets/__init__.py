"""Sheets as people keep them: machines, tasks, specs, prices and notes in one block.

``grid`` takes the text apart, ``block`` finds heads, foot notes and which way it lies,
``columns`` says how each column is understood, ``cells`` reads what stands in one, and
``sheet`` puts them together.
"""
