"""The pages in front of the app: signing in, using an invitation or a recovery code.

They need no script, but for signing in by a passkey, which no form can do.
"""

from __future__ import annotations

from html import escape
from pathlib import Path

HEADERS = {
    "Cache-Control": "no-store",
    "Content-Security-Policy": "default-src 'none'; style-src 'unsafe-inline'; font-src 'self'; "
    "script-src 'self'; connect-src 'self'; form-action 'self'; "
    "frame-ancestors 'none'; base-uri 'none'",
    "Referrer-Policy": "no-referrer",
}
_FRAME = """<!doctype html>
<html lang="en">
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>{title} · True Margin</title>
<style>
  :root {{ color-scheme: light dark; --page: #f6f4ec; --sheet: #fbfaf5; --ink: #1d2a24;
    --line: #6b746d; --mute: #545d57; --accent: #a83420; }}
  @media (prefers-color-scheme: dark) {{
    :root {{ --page: #1a211e; --sheet: #202825; --ink: #e6e8dd; --line: #93a097;
      --mute: #a9b5a6; --accent: #f0806a; }} }}
  * {{ box-sizing: border-box; }}
  body {{ margin: 0; min-height: 100vh; background: var(--page); color: var(--ink);
    font: 1rem/1.5 Text, system-ui, sans-serif; display: grid; place-items: start center; }}
  main {{ width: 100%; max-width: 420px; padding: 12vh 20px 40px; }}
  h1 {{ font: 700 1.375rem/1.25 Head, system-ui, sans-serif; margin: 0 0 8px; }}
  p {{ margin: 0 0 8px; }}
  label {{ display: block; margin-top: 16px; }}
  small {{ display: block; color: var(--mute); font-size: .875rem; }}
  input {{ display: block; width: 100%; margin-top: 6px; padding: 12px; font: inherit;
    color: inherit; background: var(--sheet); border: 1px solid var(--line); border-radius: 0; }}
  button {{ margin-top: 20px; width: 100%; padding: 14px; font: inherit; font-weight: 700;
    color: var(--page); background: var(--ink); border: 0; cursor: pointer; }}
  :focus-visible {{ outline: 3px solid var(--accent); outline-offset: 2px; }}
  [role=alert] {{ color: var(--accent); }}
  [hidden] {{ display: none; }}
  #passkey button {{ margin-top: 12px; color: var(--ink); background: none;
    border: 1px solid var(--line); }}
</style>
<main>
<h1>{title}</h1>
{inside}
</main>
</html>
"""
_SIGN_IN = """{error}
<form method="post" action="/sign-in">
  <input type="hidden" name="next" value="{next}">
  <label>E-mail address <input name="email" type="email" value="{email}" maxlength="254"
    autocomplete="username" required autofocus></label>
  <label>Password <input name="password" type="password" maxlength="200"
    autocomplete="current-password" required></label>
  <button>Sign in</button>
</form>
{passkey}
<p style="margin-top: 24px"><small>The password is lost? Use <a href="/sign-in/recovery"
style="color: inherit">a recovery code</a>. No account, or no code either? An owner can send you a
link. A phone for the bench is paired by code: <a href="/pair" style="color: inherit">pair this
device</a>.</small></p>
"""
_PASSKEY = """<p id="passkey" data-next="{next}" hidden><button type="button">Sign in by a
passkey</button><span role="alert" style="display: block; margin-top: 8px"></span></p>
<script src="/passkey.js" defer></script>"""
_RECOVERY = """<p>A recovery code is good once. It sets a new password, and signs you out everywhere
else.</p>
{error}
<form method="post" action="/sign-in/recovery">
  <label>E-mail address <input name="email" type="email" value="{email}" maxlength="254"
    autocomplete="username" required autofocus></label>
  <label>Recovery code <small>four groups of five signs, from the list that you kept</small>
    <input name="code" value="{code}" maxlength="60" autocomplete="off" autocapitalize="none"
    spellcheck="false" required></label>
  <label>New password <small>10 signs or more; a sentence will do</small>
    <input name="password" type="password" minlength="10" maxlength="200"
    autocomplete="new-password" required></label>
  <button>Set it and sign in</button>
</form>
<p style="margin-top: 24px"><small><a href="/sign-in" style="color: inherit">Back to signing
in</a></small></p>
"""
_INVITED = """<p>{words}</p>
{error}
<form method="post" action="{action}">
  {who}
  <label>Password <small>10 signs or more; a sentence will do</small>
    <input name="password" type="password" minlength="10" maxlength="200"
    autocomplete="new-password" required></label>
  <button>{verb}</button>
</form>
"""
_JOIN = """<p>{words}</p>
<form method="post" action="{action}"><button>Join as {name}</button></form>
<p style="margin-top: 24px"><small>Somebody else? <a href="/people" style="color: inherit">Sign
out</a> first, then open this link again.</small></p>
"""
_WHO = """<label>Your name <small>it stands at the runs that you enter</small>
    <input name="name" value="{name}" maxlength="40" autocomplete="name" required autofocus></label>
  <label>E-mail address <input name="email" type="email" value="{email}" maxlength="254"
    autocomplete="username" required></label>"""


_FONTS = {"Text": "atkinson-hyperlegible-next-latin-wght", "Head": "familjen-grotesk-latin-wght"}


def faces_of(web: Path | None) -> str:
    """The rules that load the fonts of the built pages; empty where there are none.

    Args:
        web: folder of the built pages; names of its files change with their content.
    """
    found = (
        (name, file)
        for name, start in _FONTS.items()
        if web is not None
        for file in (web / "assets").glob(f"{start}-*.woff2")
    )
    return "".join(
        f"\n  @font-face {{ font-family: {name}; src: url(/assets/{file.name}); "
        "font-weight: 200 800; font-display: swap; }"
        for name, file in found
    )


def sign_in_page(then: str, email: str = "", error: str = "", *, passkeys: bool = False) -> str:
    """Write the page that asks who one is.

    Args:
        then: address within the app to go to afterwards.
        email: to start with.
        error: why the last try was refused.
        passkeys: whether this address can have them; the browser says whether it can, too.
    """
    passkey = _PASSKEY.format(next=_in(then)) if passkeys else ""
    inside = _SIGN_IN.format(error=_note(error), next=_in(then), email=_in(email), passkey=passkey)
    return _FRAME.format(title="Sign in to True Margin", inside=inside)


def recovery_page(email: str = "", code: str = "", error: str = "") -> str:
    """Write the page on which a recovery code is used; what was typed stays.

    Args:
        email: to start with.
        code: to start with.
        error: why the last try was refused.
    """
    inside = _RECOVERY.format(error=_note(error), email=_in(email), code=_in(code[:60]))
    return _FRAME.format(title="Use a recovery code", inside=inside)


def invitation_page(
    token: str, words: str, *, new: bool, name: str = "", email: str = "", error: str = ""
) -> str:
    """Write the page on which an invitation is used.

    Args:
        token: secret part of its address.
        words: what it invites to.
        new: whether it makes an account; else it gives one a new password.
        name: as typed.
        email: as typed.
        error: why the last try was refused.
    """
    who = _WHO.format(name=_in(name), email=_in(email)) if new else ""
    inside = _INVITED.format(
        words=escape(words),
        error=_note(error),
        action=f"/invitation/{_in(token)}",
        who=who,
        verb="Make my account" if new else "Set this password",
    )
    title = "You are invited to True Margin" if new else "Set a new password"
    return _FRAME.format(title=title, inside=inside)


def join_page(token: str, words: str, name: str) -> str:
    """Write the page on which somebody who is signed in uses an invitation."""
    inside = _JOIN.format(words=escape(words), action=f"/invitation/{_in(token)}", name=_in(name))
    return _FRAME.format(title="You are invited to True Margin", inside=inside)


def gone_page(reason: str) -> str:
    """Write the page for an invitation that is good no longer."""
    inside = f'<p role="alert">{escape(reason)}</p><p><a href="/sign-in">Sign in</a></p>'
    return _FRAME.format(title="This link leads nowhere", inside=inside)


def _note(error: str) -> str:
    return f'<p role="alert">{escape(error)}</p>' if error else ""


def _in(text: str) -> str:
    return escape(text, quote=True)
