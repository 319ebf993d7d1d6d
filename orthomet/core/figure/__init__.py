"""Bodies: for now the plain standing silhouette the cast strip shows."""
