"""Takes: from a recipe and a seed to a picture. Beliefs, composition, people of regions, boards and poses, and what stays of a source picture."""
