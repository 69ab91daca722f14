"""The work array: one flat array of rows, each WIDTH cells long, and what the rows hold.

All ducts of a model lie in it one after another from cell 1 on, each with a ghost cell at either end. Row offsets are
constants at compile time, so the compiler can see that rows do not overlap and use vector instructions.
A face row holds at i the left face of cell i.
"""

from __future__ import annotations

WIDTH = 8232
"""Cells of a model, ghosts included; not near a multiple of 4,096 bytes, so that rows do not evict each other."""

# conserved, per cell
MASS = 0 * WIDTH  # [kg]
MOMENTUM = 1 * WIDTH  # [kg m/s]
ENERGY = 2 * WIDTH  # [J], internal and kinetic
BURNED = 3 * WIDTH  # [kg] of burned gas
# primitive, per cell
RHO = 4 * WIDTH  # [kg/m3]
VEL = 5 * WIDTH  # [m/s]
PRS = 6 * WIDTH  # [Pa]
FRAC = 7 * WIDTH  # [1] share of burned gas
GAM = 8 * WIDTH  # [1] ratio of specific heats
SOUND = 9 * WIDTH  # [m/s] speed of sound
# reconstructed at the faces, half a step on: seen from the cell right of face i, and from the cell left of it
RIGHT_RHO = 10 * WIDTH
RIGHT_VEL = 11 * WIDTH
RIGHT_PRS = 12 * WIDTH
RIGHT_FRAC = 13 * WIDTH
LEFT_RHO = 14 * WIDTH
LEFT_VEL = 15 * WIDTH
LEFT_PRS = 16 * WIDTH
LEFT_FRAC = 17 * WIDTH
# through the faces
F_MASS = 18 * WIDTH  # [kg/s]
F_MOMENTUM = 19 * WIDTH  # [N]
F_ENERGY = 20 * WIDTH  # [W]
F_BURNED = 21 * WIDTH  # [kg/s]
RATE = 22 * WIDTH  # [1/s] fastest wave at the face over the length of the cell to its right
# from the walls, per cell
DRAG = 23 * WIDTH  # [1/s] deceleration per velocity
WARMING = 24 * WIDTH  # [W/m3]
FORCE = 25 * WIDTH  # [N] pressure on the taper less drag
HEAT = 26 * WIDTH  # [W]
# geometry and walls: constant
AREA = 27 * WIDTH  # [m2] of face i
VOLUME = 28 * WIDTH  # [m3]
PER_VOLUME = 29 * WIDTH  # [1/m3]
PER_LENGTH = 30 * WIDTH  # [1/m]
FOUR_BY_D = 31 * WIDTH  # [1/m] wetted wall per volume, 4 over the hydraulic diameter
ROUGH = 32 * WIDTH  # [1] Fanning friction factor of the fully rough wall
SKIN = 33 * WIDTH  # [1] multiplies wall friction; 0 for none
LOSS = 34 * WIDTH  # [1/m] further loss coefficient per length (bends, a filter)
WALL = 35 * WIDTH  # [K] wall temperature
HEATING = 36 * WIDTH  # [1] multiplies wall heat transfer; 0 for none
ROWS = 37

# gas: [R fresh, c_v fresh, R burned, c_v burned], J/(kg K)
R_FRESH, CV_FRESH, R_BURNED, CV_BURNED = 0, 1, 2, 3
