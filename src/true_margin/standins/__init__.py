"""Simulated stand-ins for the outside world; marked as simulated wherever they show."""
