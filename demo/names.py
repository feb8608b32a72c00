"""Names of the festival shootout: who timed, the tasks, the machines and setups."""

from __future__ import annotations

WHO = "Marit Oduya-Lind"
PARADE = "Lantern parade, export UHD"
PARADE_HD = "Lantern parade, export 1080p"
RENDER = "Lantern parade, background render"
DIARY = "Backstage diary, export in Heddle"
DIARY_S = "Backstage diary, export in Sprocketry"
TITLES = "Curtain titles, export"
HALL = "Hall recording, clean-up"
STILLS = "Rehearsal stills, export"
POINTS = "Lens points"
LAUNCH = "Heddle launch"
WATCHED = "Lantern parade, playback"
SPRING, AUTUMN = "spring", "autumn"
TARN, SMAINS, SBATT = "Tarn Desk", "Halyard S mains", "Halyard S battery"
LARGE, CAIRN, STOCK, RAISED = "Halyard L", "Cairn Brick", "Ferrous T9 stock", "Ferrous T9 raised"
PEBBLE = "Pebble"
SETUP_OF = {
    TARN: ("Tarn Desk", "as owned"),
    SMAINS: ("Halyard S", "mains"),
    SBATT: ("Halyard S", "battery"),
    LARGE: ("Halyard L", "as lent"),
    CAIRN: ("Cairn Brick", "as bought"),
    STOCK: ("Ferrous T9", "stock"),
    RAISED: ("Ferrous T9", "overclocked"),
    PEBBLE: ("Pebble", "as bought"),
}
