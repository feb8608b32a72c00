"""Jobs: work beside requests, put into the queue with the transaction that asks for it.

May import every other package of the desk but the run sheet.
"""
