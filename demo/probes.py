"""Probe files of the festival shootout's exports, as the usual media probe writes them."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta

import numpy as np

from demo.names import CAIRN, DIARY, LARGE, PARADE, PEBBLE, SETUP_OF, SMAINS, STOCK, TARN, WHO
from demo.season_tasks import EXPORT_SETTINGS
from true_margin.exchange.pack_noted import PackLook, PackOutput, PackSettingsUsed

CODECS = {"HEVC": "hevc", "H.264": "h264"}
PIXELS = {"8": "yuv420p", "10": "yuv420p10le"}
PROBED = {PARADE: (TARN, CAIRN, SMAINS, LARGE, STOCK), DIARY: (TARN, CAIRN, PEBBLE)}
LENGTHS = {PARADE: 660.0, DIARY: 360.0}
WRONG = (DIARY, PEBBLE)
"""Pebble wrote a smaller picture than the task asks for, and nobody has said so yet."""


@dataclass
class Outputs:
    """What was noted of outputs, and the probe files themselves."""

    files: list[PackOutput] = field(default_factory=list)
    looks: list[PackLook] = field(default_factory=list)
    settings: list[PackSettingsUsed] = field(default_factory=list)
    contents: dict[str, bytes] = field(default_factory=dict)


def probe_json(settings: Mapping[str, str], length_s: float, size: int) -> bytes:
    """A probe file of an export with these settings."""
    width, height = settings["size"].split("x")
    document = {
        "streams": [
            {
                "index": 0,
                "codec_type": "video",
                "codec_name": CODECS[settings["codec"]],
                "width": int(width),
                "height": int(height),
                "pix_fmt": PIXELS[settings["depth"]],
                "avg_frame_rate": f"{settings['frame_rate']}/1",
                "color_primaries": settings["colour"],
                "color_transfer": settings["colour"],
                "color_space": settings["colour"],
                "duration": f"{length_s:.6f}",
            },
            {"index": 1, "codec_type": "audio", "codec_name": "aac", "channels": 2},
        ],
        "format": {
            "format_name": "mov,mp4,m4a,3gp,3g2,mj2",
            "duration": f"{length_s:.6f}",
            "size": str(size),
            "bit_rate": str(round(8 * size / length_s)),
        },
    }
    return (json.dumps(document, indent=1) + "\n").encode()


def season_outputs(seed: int) -> Outputs:
    """The probes of two tasks, what Marit saw of some, and the settings she looked at."""
    rng = np.random.default_rng(seed)
    found = Outputs()
    at = datetime(2026, 10, 16, 19, 0, tzinfo=UTC)
    for task, setups in PROBED.items():
        for setup in setups:
            machine, name = SETUP_OF[setup]
            who = {"task": task, "machine": machine, "setup": name, "who": WHO, "noted_at": at}
            settings = dict(EXPORT_SETTINGS[task])
            if setup != PEBBLE and task == PARADE:
                found.settings.append(PackSettingsUsed(**who, settings=json.dumps(settings)))
            if (task, setup) == WRONG:
                settings["size"] = "720x1280"
            usual = LENGTHS[task] * float(settings["bit_rate"]) * 1e6 / 8
            size = int(usual * (1 + rng.normal(0.0, 0.006)))
            content = f"probe-{len(found.files) + 1}.json"
            stem = f"{task.split(',')[0]} {machine}".lower().replace(" ", "-")
            found.files.append(PackOutput(**who, name=f"{stem}.json", content=content))
            found.contents[content] = probe_json(settings, LENGTHS[task], size)
            if setup in (TARN, CAIRN):
                found.looks.append(PackLook(**who, plays=True, in_sync=True, colour_right=True))
            at += timedelta(minutes=4)
    return found
