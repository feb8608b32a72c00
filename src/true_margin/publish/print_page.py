"""Set a page as PDF in a program of its own: ``python -m true_margin.publish.print_page``.

Reads HTML from the standard input and writes the PDF to the standard output. Setting pages
takes a processor for seconds, which the app that answers people needs for itself.
"""

from __future__ import annotations

import sys

from true_margin.publish.pages import load_printer, to_pdf


def main() -> None:
    """Set the page that comes in; what that takes is loaded while it is still being made."""
    load_printer()
    sys.stdout.buffer.write(to_pdf(sys.stdin.buffer.read().decode()))


if __name__ == "__main__":
    main()
