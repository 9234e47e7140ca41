"""The handbook: pages in Markdown, drawings, and figures that are taken from what the application computes with."""
