"""The one page that an unpaired device is shown: it asks for the code and gives nothing away."""

from __future__ import annotations

from html import escape

_PAGE = """<!doctype html>
<html lang="en">
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>Pair this device · True Margin</title>
<style>
  :root {{ color-scheme: light dark; --page: #f6f4ec; --ink: #1d2a24; --line: #6b746d;
    --accent: #a83420; }}
  @media (prefers-color-scheme: dark) {{
    :root {{ --page: #1a211e; --ink: #e6e8dd; --line: #93a097; --accent: #f0806a; }} }}
  body {{ margin: 0; padding: 24px 20px; background: var(--page); color: var(--ink);
    font: 16px/1.5 system-ui, sans-serif; max-width: 420px; }}
  h1 {{ font-size: 21px; margin: 0 0 8px; }}
  label {{ display: block; margin-top: 16px; }}
  input {{ display: block; width: 100%; box-sizing: border-box; padding: 12px; font: inherit;
    color: inherit; background: transparent; border: 1px solid var(--line); }}
  input[name=code] {{ font: 32px/1.2 ui-monospace, monospace; letter-spacing: .25em;
    text-transform: uppercase; }}
  button {{ margin-top: 20px; width: 100%; padding: 18px; font: inherit; font-weight: 700;
    color: var(--page); background: var(--ink); border: 0; }}
  [role=alert] {{ color: var(--accent); }}
</style>
<h1>Pair this device with the bench</h1>
<p>The desk shows a code of six signs: Bench, then "Pair a device".</p>
{error}
<form method="post" action="/pair">
  <label>Code <input name="code" value="{code}" maxlength="12" autocomplete="off"
    autocapitalize="characters" spellcheck="false" required></label>
  <label>Name of this device <input name="name" value="phone" maxlength="60"></label>
  <button>Pair this device</button>
</form>
</html>
"""


def pair_page(code: str, error: str = "") -> str:
    """Write the page.

    Args:
        code: to start with, as a link had it.
        error: why the last try was refused.
    """
    note = f'<p role="alert">{escape(error)}</p>' if error else ""
    return _PAGE.format(code=escape(code, quote=True), error=note)
