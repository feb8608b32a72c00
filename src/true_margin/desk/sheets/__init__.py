"""Sheets on their way into the book: understood with what it knows, then stored at once."""
