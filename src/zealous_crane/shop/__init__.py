"""What the shop keeps and must be told: cautions where the danger is."""

from .caution import Caution, cautions_for

__all__ = ["Caution", "cautions_for"]
