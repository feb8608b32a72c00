"""What a request does: loads, calls the core, stores. Owns the transactions."""
