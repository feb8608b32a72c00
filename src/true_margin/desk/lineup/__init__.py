"""Line-up: machines, setups, their spec sheet and their prices.

May import the book.
"""
