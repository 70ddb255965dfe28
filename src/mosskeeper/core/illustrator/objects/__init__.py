"""Things and animals that stand in a picture by themselves, or are held: one row and one drawing each, grouped by kind.

Coordinates are head heights (hh; an adult is 5.3 high): `at(x, y)` lies x to the side of the thing's middle and y above the
ground. Animals look to the right, towards positive x.
"""
