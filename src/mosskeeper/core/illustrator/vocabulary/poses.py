"""Named poses, as joint angles.

Arms and legs are (upper, lower[, shortening of upper, of lower]): degrees from straight down, positive
outwards; shortening below 1 turns the limb towards the viewer. `turn` is the head's, −1…1. `hands` names the
right and the left hand's pose (see `HANDS`), `behind` the limbs that lie behind the trunk.
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
    hands: tuple[str, str] = ("relaxed", "relaxed")
    behind: tuple[str, ...] = ()
    lift: float = 0.0  # hh by which the feet are off the ground
    lying: bool = False  # on the ground with the whole body, in place of the feet


@dataclass(frozen=True, slots=True)
class Hand:
    """Shape of a hand: for index to little finger length and spread (of a hand 1 long), and the thumb's angle.

    A finger shorter than a third is curled into the palm.
    """

    fingers: tuple[tuple[float, float], ...]
    thumb: float  # degrees from the fingers
    thumb_length: float = 1.0


HANDS: dict[str, Hand] = {
    "relaxed": Hand(((0.80, 0.5), (0.92, 0.2), (0.88, -0.2), (0.72, -0.6)), 34),
    "open": Hand(((0.98, 3.2), (1.08, 1.0), (1.02, -1.2), (0.86, -3.4)), 62, 1.1),
    "flat": Hand(((0.98, 0.5), (1.06, 0.15), (1.02, -0.15), (0.88, -0.5)), 16),
    "pointing": Hand(((1.08, 0.6), (0.28, 0.2), (0.26, -0.2), (0.22, -0.6)), 20, 0.7),
    "fist": Hand(((0.30, 0.4), (0.32, 0.1), (0.30, -0.1), (0.26, -0.4)), 10, 0.6),
    "cupped": Hand(((0.62, 0.2), (0.68, 0.1), (0.64, -0.1), (0.55, -0.3)), 48, 0.9),
    "grip": Hand(((0.30, 0.4), (0.32, 0.1), (0.30, -0.1), (0.26, -0.4)), 10, 0.8),  # drawn round what it holds
}


POSES: dict[str, Pose] = {
    "standing": Pose((17, 2), (22, 10), (3, 0), (12, 5), -2, 4, 0.30, 3, -4),
    "facing": Pose((15, 5), (15, 6), (6, 2), (7, 3), 0, 0, 0.06, 0, 0),
    "walking": Pose((30, -4), (20, -30), (10, 26), (15, -2), 4, -3, 0.70, -3, 3),
    "reaching": Pose((26, 12), (146, 160), (7, 4), (2, 0), -4, -9, 0.50, -9, 4, hands=("relaxed", "open")),
    "sitting": Pose((18, -22), (20, -28), (28, 2, 0.62, 1), (34, -6, 0.62, 1), 0, 6, -0.30, seated=True),
    "kneeling": Pose((30, 16), (46, 12), (6, 62, 0.95, 0.75), (74, -4, 0.95, 0.82), 7, 4, 0.50),
    "presenting": Pose((24, -16), (30, 108), (13, 6), (2, 0), 2, -5, 0.45, -4, 4, hands=("relaxed", "cupped")),
    "hands on hips": Pose((52, -38), (50, -36), (10, 4), (10, 4), -1, 2, 0.15, 2, -3, hands=("fist", "fist")),
    "running": Pose(
        (58, -42, 1.0, 0.95), (26, 128), (20, 76, 0.96, 0.82), (58, -16), 12, -6, 0.75, -4, 4, hands=("fist", "fist"), lift=0.16
    ),
    "dancing": Pose((112, 150), (68, 24), (5, 3), (34, -16), -5, -8, 0.35, 8, -7, hands=("open", "flat")),
    "bowing": Pose((16, -34), (18, 2), (3, 1), (9, 4), 24, 14, 0.45, 4, 0, hands=("flat", "relaxed")),
    "thinking": Pose((30, -74), (34, -152), (4, 1), (11, 5), -2, 8, 0.40, 3, -4, hands=("relaxed", "fist")),
    "hand on heart": Pose((14, 4), (32, -116), (3, 1), (10, 4), -1, 5, 0.20, -2, 2, hands=("relaxed", "flat")),
    "arms wide": Pose((72, 84), (74, 86), (6, 2), (9, 4), -2, -3, 0.15, 0, 0, hands=("open", "open")),
    "pointing": Pose((20, 4), (94, 98), (8, 4), (6, 2), -3, -4, 0.60, -5, 3, hands=("relaxed", "pointing")),
    "carrying": Pose((18, -66), (18, -66), (5, 2), (10, 4), -3, 4, 0.25, 0, -2, hands=("cupped", "cupped")),
    "looking back": Pose((28, 10), (24, -8), (12, 14), (12, 2), 3, -5, -0.85, 4, 2),
    "crouching": Pose((40, -30), (46, -34), (56, -38, 0.86, 0.86), (58, -40, 0.86, 0.86), 8, -6, 0.30, 0, 0),
    "tiptoe": Pose((34, 44), (36, 46), (1, 0), (4, 1), -2, -6, 0.30, 2, -2, hands=("open", "open")),
    "hands behind back": Pose((24, -44), (26, -46), (5, 2), (9, 4), -2, 3, 0.25, 2, -3, behind=("right arm", "left arm")),
    "waving": Pose((22, 6), (118, 168), (4, 2), (10, 3), -2, -6, 0.25, -6, 3, hands=("relaxed", "open")),
}

# Poses that nobody takes by chance, only where words name them.
NAMED: dict[str, Pose] = {
    "leaping": Pose((112, 138), (118, 140), (62, -34, 0.9, 0.9), (44, 62), -4, -5, 0.3, 4, -4, hands=("open", "open"), lift=0.55),
    "arms crossed": Pose((24, -108), (26, -112), (6, 2), (9, 4), -1, 2, 0.2, 0, -2, hands=("fist", "relaxed")),
    "cheering": Pose((150, 172), (148, 168), (7, 3), (10, 4), -3, -4, 0.15, 0, 0, hands=("fist", "fist")),
    "looking out": Pose((20, 6), (96, -178, 0.9, 0.8), (5, 1), (14, 6), 2, -4, 0.6, -6, 4, hands=("relaxed", "flat")),
    "throwing": Pose((104, 150), (62, 30), (26, 6), (22, 40), -10, -6, 0.6, 10, -6, hands=("fist", "open")),
    "pushing": Pose((66, 84, 0.8, 0.9), (80, 92), (8, 36), (46, 8), 18, 4, 0.7, -4, 2, hands=("flat", "flat")),
    "lunging": Pose((60, 84), (66, 92), (52, 6), (40, 44, 1.0, 1.0), 4, -2, 0.6, -3, 3, hands=("fist", "pointing")),
    "climbing": Pose((148, 160), (96, 164), (8, 2), (74, -36, 0.8, 0.9), -3, -8, 0.3, -6, 6, hands=("grip", "grip")),
    "balancing": Pose((84, 92), (80, 86), (2, 0), (36, -70, 0.95, 0.9), -4, 4, 0.2, 4, -6, hands=("flat", "flat")),
    "sitting on the ground": Pose(
        (24, -6), (26, -8), (80, -80, 0.66, 0.84), (78, -84, 0.66, 0.80), 2, 4, 0.2, 0, 0, hands=("relaxed", "relaxed")
    ),
    "lying": Pose(
        (76, 30, 0.9, 0.9),
        (86, 150, 0.8, 0.7),
        (72, 108, 0.86, 0.9),
        (-93, -88),
        82,
        36,
        0.05,
        4,
        80,
        hands=("relaxed", "flat"),
        lying=True,
    ),
    "handstand": Pose((-8, -3), (-8, -4), (176, 188), (192, 170), 178, 88, 0.05, 0, 180, hands=("flat", "flat"), lying=True),
    "reading": Pose((20, -78, 0.95, 0.8), (20, -80, 0.95, 0.8), (5, 2), (9, 4), 3, 10, 0.1, 0, -2, hands=("cupped", "cupped")),
    "listening": Pose((16, 4), (62, 176, 0.9, 0.72), (4, 1), (11, 5), -3, 12, -0.5, -4, 3, hands=("relaxed", "cupped")),
    "shrugging": Pose((36, 104), (36, 104), (6, 2), (9, 4), 0, 7, 0.1, 0, 0, hands=("open", "open")),
    "stretching": Pose((158, 184), (156, -170, 1.0, 0.9), (4, 0), (6, 1), -5, -8, 0.1, 2, -2, hands=("fist", "fist")),
    "hands in pockets": Pose((30, -20), (30, -20), (4, 1), (11, 5), -2, 4, 0.30, 3, -4, hands=("fist", "fist")),
    "arms raised": Pose((138, 166), (138, 166), (8, 3), (8, 3), -1, -6, 0.15, 0, 0, hands=("open", "open")),
    "praying": Pose((20, -132), (20, -132), (4, 2), (5, 2), 1, 8, 0.15, 0, 0, hands=("flat", "flat")),
    "saluting": Pose((16, 4), (84, 218), (3, 1), (3, 1), -2, 0, 0.15, 0, 0, hands=("relaxed", "flat")),
    "hand at the mouth": Pose((18, 0), (38, -150), (3, 1), (10, 4), -2, 4, 0.35, 2, -3, hands=("relaxed", "cupped")),
    "playing": Pose((36, -84), (46, -124), (5, 2), (10, 4), -2, 8, 0.35, 2, -3, hands=("grip", "grip")),
    "hands on the head": Pose((118, 226), (118, 226), (6, 2), (8, 3), -1, 3, 0.10, 0, 0, hands=("flat", "flat")),
    "leaning forward": Pose((26, -18), (30, -24), (4, 2), (10, 4), 18, -6, 0.35, 0, 0),
}
USUAL = tuple(POSES)  # what somebody may do by chance
POSES |= NAMED
