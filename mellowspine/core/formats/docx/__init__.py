"""Office Open XML text documents, .docx (ISO/IEC 29500)."""

from .reader import read

__all__ = ["read"]
