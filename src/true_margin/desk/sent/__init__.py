"""Results that others send in: the kit that is given out, and what comes back."""
