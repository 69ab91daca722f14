"""Physical constants used by the core, with their sources.

| name | value | unit | source |
|---|---|---|---|
| GAS_CONSTANT_DRY_AIR | 287.05 | J/(kg K) | R_u / M of dry air, rounded as usual in engine work |
| GAS_CONSTANT_VAPOUR | 461.52 | J/(kg K) | R_u / M of water |
| GAMMA_AIR | 1.4 | - | diatomic ideal gas |
| ZERO_CELSIUS | 273.15 | K | definition |
| INCH_OF_WATER | 249.08891 | Pa | conventional: 25.4 mm x 1000 kg/m3 x 9.80665 m/s2 |
| INCH_OF_MERCURY | 3386.38864 | Pa | conventional: 25.4 mm x 13595.1 kg/m3 x 9.80665 m/s2 |
"""

from __future__ import annotations

from math import pi

STANDARD_GRAVITY = 9.80665
GAS_CONSTANT_DRY_AIR = 287.05
GAS_CONSTANT_VAPOUR = 461.52
GAMMA_AIR = 1.4
ZERO_CELSIUS = 273.15
INCH_OF_WATER = 0.0254 * 1000.0 * STANDARD_GRAVITY
INCH_OF_MERCURY = 0.0254 * 13595.1 * STANDARD_GRAVITY
RPM = 2.0 * pi / 60.0
"""One revolution per minute in rad/s."""
