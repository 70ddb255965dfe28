"""Regional prompting: who stands where in a picture whose parts have words of their own."""
