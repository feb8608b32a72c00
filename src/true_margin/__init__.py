"""True Margin: times exports, keeps every run, and says which differences are real."""

__version__ = "0.2.0"
