"""Runs the command line: ``python -m true_margin``."""

from true_margin.cli import main

if __name__ == "__main__":
    main()
