"""Natural figures: heads as small solids lit in planes, hair as strands, hands with fingers; bodies and clothes are those of all figures."""
