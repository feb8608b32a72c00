"""The demo world: open files, and the seeded scripts that drew them."""
