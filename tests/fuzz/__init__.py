"""Damaged input of every kind, made from good input by seeded chance."""
