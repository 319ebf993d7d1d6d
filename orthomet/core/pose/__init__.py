"""Poses: joint angles and holds on a figure of any proportions; reach, balance, and what a photo's limbs say in depth."""
