"""The store room: machines, standing tasks and a house style that outlive one shootout.

Reads what all shootouts share and says which of their parts are one; runs stay where they
were made. May import: book, lineup, tasks, shootouts, runs, and the
words of money of picks.
"""
