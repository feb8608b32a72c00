"""Claims of a script: noticed, rewritten, read, doubted and judged, a module a step."""
