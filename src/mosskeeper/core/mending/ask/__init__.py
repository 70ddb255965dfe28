"""What words and a mask ask of a scene: the scene with only that changed."""
