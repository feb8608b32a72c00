"""How far the intervals, calls and ranks can be trusted, against known truth."""
