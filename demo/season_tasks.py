"""Timelines and tasks of the festival shootout, with their export settings."""

from __future__ import annotations

from demo.names import (
    DIARY,
    DIARY_S,
    HALL,
    LAUNCH,
    PARADE,
    PARADE_HD,
    POINTS,
    RENDER,
    STILLS,
    TITLES,
    WATCHED,
)
from true_margin.exchange.pack_tables import PackTask, PackTaskSetting, PackTimeline

TIMELINES = [
    PackTimeline(name="Lantern parade", length_s=660),
    PackTimeline(name="Backstage diary", length_s=360),
    PackTimeline(name="Curtain titles", length_s=90),
    PackTimeline(name="Hall recording", length_s=2100),
]
EXPORTED = {"starts_when": "key press", "ends_when": "dialog closed"}
LOGGED_BY = {"starts_when": "key press", "ends_when": "progress at 100 %"}
TASKS = [
    PackTask(
        name=PARADE,
        app="Heddle",
        timeline="Lantern parade",
        operation="export",
        work=660,
        unit="s",
        **EXPORTED,
    ),
    PackTask(
        name=PARADE_HD,
        app="Heddle",
        timeline="Lantern parade",
        operation="export",
        work=660,
        unit="s",
        **EXPORTED,
    ),
    PackTask(
        name=RENDER,
        app="Heddle",
        timeline="Lantern parade",
        operation="background render",
        work=660,
        unit="s",
        **LOGGED_BY,
    ),
    PackTask(
        name=DIARY,
        app="Heddle",
        timeline="Backstage diary",
        operation="export",
        work=360,
        unit="s",
        **EXPORTED,
    ),
    PackTask(
        name=DIARY_S,
        app="Sprocketry",
        timeline="Backstage diary",
        operation="export",
        work=360,
        unit="s",
        **LOGGED_BY,
    ),
    PackTask(
        name=TITLES,
        app="Heddle",
        timeline="Curtain titles",
        operation="export",
        work=90,
        unit="s",
        **EXPORTED,
    ),
    PackTask(
        name=HALL,
        app="Quietgrain",
        timeline="Hall recording",
        operation="denoise",
        note="sound clean-up by machine learning",
        work=2100,
        unit="s",
        **LOGGED_BY,
    ),
    PackTask(
        name=STILLS,
        app="Silverwash",
        operation="photo batch",
        note="export of 260 raw photos",
        work=260,
        unit="photos",
        **EXPORTED,
    ),
    PackTask(name=POINTS, app="Lens points", operation="score", measure="amount", unit="points"),
    PackTask(
        name=LAUNCH,
        app="Heddle launch",
        operation="app launch",
        starts_when="key press",
        ends_when="window ready",
    ),
    PackTask(
        name=WATCHED,
        app="Heddle",
        timeline="Lantern parade",
        operation="playback",
        measure="observation",
        note="the parade from 2:00 to 3:00, edit page, no rendering",
    ),
]
UHD = {
    "codec": "HEVC",
    "container": "mp4",
    "size": "3840x2160",
    "frame_rate": "50",
    "depth": "10",
    "rate_control": "variable bit rate",
    "bit_rate": "60",
    "encoder": "hardware",
    "colour": "bt709",
}
UPRIGHT = {
    "codec": "H.264",
    "container": "mp4",
    "size": "1080x1920",
    "frame_rate": "25",
    "depth": "8",
    "rate_control": "variable bit rate",
    "bit_rate": "12",
    "colour": "bt709",
}
EXPORT_SETTINGS: dict[str, dict[str, str]] = {
    PARADE: UHD,
    PARADE_HD: {**UHD, "codec": "H.264", "size": "1920x1080", "depth": "8", "bit_rate": "20"},
    DIARY: UPRIGHT,
    DIARY_S: UPRIGHT,
    TITLES: {
        "codec": "ProLine",
        "container": "mov",
        "size": "3840x2160",
        "frame_rate": "50",
        "depth": "12",
        "other": "with alpha",
    },
    STILLS: {"codec": "JPEG", "other": "quality 90, full size"},
}
TASK_SETTINGS = [
    PackTaskSetting(task=task, field=field, value=value)
    for task, settings in EXPORT_SETTINGS.items()
    for field, value in settings.items()
]
