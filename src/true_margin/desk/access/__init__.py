"""Who gets in: accounts, sign-ins, paired devices, and what each may do.

May import the store and the core; no other package of the desk.
"""
