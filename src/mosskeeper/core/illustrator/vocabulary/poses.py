"""Named poses, as joint angles.

Arms and legs are (upper, lower[, shortening of upper, of lower]): degrees from straight down, positive
outwards; shortening below 1 turns the limb towards the viewer. `turn` is the head's, −1…1.
"""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Pose:
    right_arm: tuple[float, ...]
    left_arm: tuple[float, ...]
    right_leg: tuple[float, ...]
    left_leg: tuple[float, ...]
    lean: float = 0.0
    head_tilt: float = 0.0
    turn: float = 0.3
    shoulder_tilt: float = 0.0
    hip_tilt: float = 0.0
    seated: bool = False


POSES: dict[str, Pose] = {
    "standing": Pose((17, 2), (22, 10), (3, 0), (12, 5), -2, 4, 0.30, 3, -4),
    "facing": Pose((15, 5), (15, 6), (6, 2), (7, 3), 0, 0, 0.06, 0, 0),
    "walking": Pose((30, -4), (20, -30), (10, 26), (15, -2), 4, -3, 0.70, -3, 3),
    "reaching": Pose((26, 12), (146, 160), (7, 4), (2, 0), -4, -9, 0.50, -9, 4),
    "sitting": Pose((18, -22), (20, -28), (28, 2, 0.62, 1), (34, -6, 0.62, 1), 0, 6, -0.30, seated=True),
    "kneeling": Pose((30, 16), (46, 12), (6, 62, 0.95, 0.75), (74, -4, 0.95, 0.82), 7, 4, 0.50),
    "presenting": Pose((24, -16), (30, 108), (13, 6), (2, 0), 2, -5, 0.45, -4, 4),
    "hands on hips": Pose((52, -38), (50, -36), (10, 4), (10, 4), -1, 2, 0.15, 2, -3),
    "waving": Pose((22, 6), (118, 168), (4, 2), (10, 3), -2, -6, 0.25, -6, 3),
}
