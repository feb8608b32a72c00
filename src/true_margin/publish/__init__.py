"""Pictures, tables and pages from plain values: what leaves the house."""
