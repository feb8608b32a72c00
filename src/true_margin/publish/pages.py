"""Pages from templates: self-contained, no script, the shipped fonts inside or beside."""

from __future__ import annotations

import base64
import json
from functools import lru_cache, partial
from pathlib import Path
from typing import Any

from jinja2 import Environment, FileSystemLoader, StrictUndefined
from markupsafe import Markup

from true_margin.core.labels import RESULT, label_of
from true_margin.publish.lettering import FONTS

TEMPLATES = Path(__file__).parent / "templates"
_FACES = (
    ("True Margin Head", "head", 700),
    ("True Margin Text", "text", 400),
    ("True Margin Text", "strong", 700),
    ("True Margin Figure", "figure", 500),
)


@lru_cache(maxsize=1)
def _environment() -> Environment:
    environment = Environment(
        loader=FileSystemLoader(TEMPLATES),
        autoescape=True,
        undefined=StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
    )
    environment.filters["result"] = partial(label_of, RESULT)
    return environment


def render(template: str, **values: Any) -> str:
    """Fill a template; every value is escaped unless it is markup of our own."""
    return _environment().get_template(template).render(**values)


def font_faces(beside: str | None = None) -> Markup:
    """The fonts as CSS: inside the page, or as files at an address."""
    rules = []
    for family, face, weight in _FACES:
        if beside is None:
            data = base64.b64encode((FONTS / f"{face}.ttf").read_bytes()).decode()
            source = f"data:font/ttf;base64,{data}"
        else:
            source = f"{beside}/{face}.ttf"
        rules.append(
            f'@font-face{{font-family:"{family}";font-weight:{weight};'
            f'src:url("{source}") format("truetype")}}'
        )
    return Markup("".join(rules))  # noqa: S704 - of our own making


def json_in_script(value: dict[str, Any]) -> Markup:
    """Values for a script element; nothing in it can end the element that it stands in."""
    text = json.dumps(value, ensure_ascii=False)
    for sign, code in (("<", "\\u003c"), (">", "\\u003e"), ("&", "\\u0026")):
        text = text.replace(sign, code)
    return Markup(text)  # noqa: S704 - every sign that HTML knows is escaped above


def json_ld(value: dict[str, Any]) -> Markup:
    """Linked data for a page's head."""
    return json_in_script(value)


def load_printer() -> None:
    """Load what sets pages, which takes seconds, before there is a page."""
    to_pdf("<p>x")


def to_pdf(html: str) -> bytes:
    """Set a self-contained page as a tagged PDF; nothing outside of it is fetched."""
    # Loads slowly, and only reports need it.
    from weasyprint import HTML  # noqa: PLC0415
    from weasyprint.urls import URLFetcher  # noqa: PLC0415

    inside = URLFetcher(allowed_protocols=["data"], fail_on_errors=True)
    pdf: bytes = HTML(string=html, url_fetcher=inside).write_pdf(pdf_variant="pdf/ua-1")
    return pdf
