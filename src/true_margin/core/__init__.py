"""The rules of the job: numbers in, decisions out. Imports nothing above it."""
