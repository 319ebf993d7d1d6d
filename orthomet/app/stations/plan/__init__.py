"""Plan: reference and plan side by side, decisions per trait, likeness and style."""

from .station import PlanStation

__all__ = ["PlanStation"]
