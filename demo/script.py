"""What the festival shootout publishes: a script with twelve claims, a third of them wrong as
people get it, and ten cards."""

from __future__ import annotations

from demo.names import CAIRN, PARADE, RAISED, SETUP_OF
from true_margin.exchange.pack_publish import PackCard, PackCardSetup

CHANNEL = "Nettle & Reed, autumn bench"
CARDS = [
    PackCard(place=0, kind="bar", task=PARADE, source=CHANNEL, seconds=8),
    PackCard(place=1, kind="rule", source=CHANNEL, seconds=8),
    PackCard(place=2, kind="price", viewer="Festival filmer", source=CHANNEL, seconds=10),
    PackCard(place=3, kind="pick", viewer="Festival filmer", source=CHANNEL, seconds=7),
    PackCard(place=4, kind="spec", source=CHANNEL, seconds=7),
    PackCard(place=5, kind="progress", task=PARADE, source=CHANNEL, seconds=6),
    PackCard(place=6, kind="feel", source=CHANNEL, seconds=8),
    PackCard(place=7, kind="race", task=PARADE, source=CHANNEL, seconds=10),
    PackCard(place=8, kind="worth", viewer="Festival filmer", source=CHANNEL, seconds=7),
    PackCard(place=9, kind="versions", task=PARADE, source=CHANNEL, seconds=8),
]
CARD_SETUPS = [
    PackCardSetup(card=card, part=part, place=0, machine=setup[0], setup=setup[1])
    for card, part, setup in (
        (0, "highlighted", SETUP_OF[CAIRN]),
        (1, "highlighted", SETUP_OF[CAIRN]),
        (2, "left_out", SETUP_OF[RAISED]),
    )
]

SCRIPT = """\
Welcome back to the bench. Six machines, one festival, and far too much coffee.

Let us start with the long one.
Ferrous T9 stock is 2.7 times as fast as Tarn Desk on Lantern parade, export UHD.
Halyard S mains is nearly twice as fast as Tarn Desk on Lantern parade, export UHD.
Cairn Brick and Halyard S mains are level on Lantern parade, export UHD.
Halyard L is faster than Ferrous T9 overclocked on Lantern parade, export UHD.

The short jobs tell another story.
Ferrous T9 stock is nearly three times as fast as Tarn Desk on curtain titles.
Halyard L is the fastest on rehearsal stills.
Halyard L takes 60 % less time than Tarn Desk on rehearsal stills.

Now the sound.
Ferrous T9 stock is six times as fast as Halyard L on hall recording.
Cairn Brick is twice as fast as Tarn Desk on hall recording.

And the money.
Cairn Brick is better value than Halyard L.
Ferrous T9 stock is faster than Cairn Brick on curtain titles and rehearsal stills.
Halyard S mains is 40 % slower than Halyard L on Lantern parade, export 1080p.

That is it for this season. See you in spring.
"""
