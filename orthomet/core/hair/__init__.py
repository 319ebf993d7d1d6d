"""Hair as a few big masses on a skull, and what is worn over it: built once for a head and a style, then turned as ink."""
