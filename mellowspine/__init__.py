"""Mellow Spine: tables of contents, figures and authorities that stay right while several people write."""
