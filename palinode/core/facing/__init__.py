"""Two pages facing each other: their texts, and what they refer to."""

from palinode.core.facing.references import Beside, Shown, beside
from palinode.core.facing.texts import MOST_BLOCKS, Paragraph, Words, paragraphs, stretch

__all__ = ["MOST_BLOCKS", "Beside", "Paragraph", "Shown", "Words", "beside", "paragraphs", "stretch"]
