"""What may be put into an article on another site: cards, the bars of a job, an answer.

Without an address of the folder on the web there is none: a snippet leads there.
"""

from __future__ import annotations

from collections.abc import Iterator
from html import escape

from true_margin.desk.publish.answer_pages import Answer
from true_margin.desk.publish.owned_machines import Owned
from true_margin.desk.publish.page_data import PageData
from true_margin.publish.embeds import EmbedBar, embed


def card_snippets(data: PageData, address: str) -> Iterator[tuple[str, str]]:
    """Snippets of each card for other sites: a picture with its text alternative and a link."""
    if not address:
        return
    address = escape(address, quote=True)
    for card in data.cards:
        alt = escape(card.title, quote=True)
        yield (
            card.title,
            f'<a href="{address}"><img src="{address}files/card-{card.key}-wide-day.svg" '
            f'alt="{alt}" width="960" height="540" loading="lazy"></a>',
        )


def job_snippets(data: PageData, address: str) -> list[str]:
    """A snippet of each job's bars; none where the address of the folder is not known."""
    if not address:
        return []
    return [
        embed(
            ladder.title,
            [
                EmbedBar(bar.label, bar.value, bar.share / 100, bar.leads)
                for bar in ladder.bars.rows
            ],
            f"{ladder.title}: {ladder.headline}",
            f"{address}index.html#job-{at}",
        )
        for at, ladder in enumerate(data.ladders)
    ]


def answer_snippet(answer: Answer, owned: Owned, address: str) -> str:
    """A snippet of an answer; empty where the address of the folder is not known."""
    if not address:
        return ""
    duo = answer.duo
    bars = (
        []
        if duo is None
        else [
            EmbedBar(duo.own, duo.own_time, duo.own_share),
            EmbedBar(duo.pick, duo.pick_time, duo.pick_share, picked=True),
        ]
    )
    order = ", ".join(each for each in (answer.order, answer.price) if each)
    who = answer.kind if owned.setup is None else f"{answer.kind} with a {owned.label}"
    said = f"{who}: {order}. {answer.short}"
    title = "" if duo is None else duo.job
    return embed(title, bars, said, f"{address}have/{owned.key}/{answer.key}.html")
