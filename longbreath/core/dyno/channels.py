"""The channels that a pull may carry: what each is called and what kind of quantity it holds."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class ChannelKind:
    """One channel: its name, what people call it, its kind of quantity (values are SI), whether a pull must have it."""

    name: str
    label: str
    kind: str
    required: bool = False


SPEED, TORQUE, POWER, MIXTURE = "speed", "torque", "power", "mixture"
CHANNELS = {
    channel.name: channel
    for channel in (
        ChannelKind(SPEED, "Engine speed", "speed", required=True),
        ChannelKind(TORQUE, "Torque", "torque"),
        ChannelKind(POWER, "Power", "power"),
        ChannelKind(MIXTURE, "Mixture", "ratio"),
    )
}
"""All channels by name. A further channel is one further line here, and words for it in the reader of files."""
